"""`python -m server.serve --port 8000`: the application behind the production WSGI server, on this machine only."""

import argparse
import sys

from waitress.server import create_server

from server.wsgi import application

# SQLite has one writer at a time and the core frees the interpreter while it computes: eight threads suit two cores.
THREADS = 8


def main() -> int:
    parser = argparse.ArgumentParser(description="Serve Keel Turn.")
    parser.add_argument("--port", type=int, default=8000)
    port = parser.parse_args().port
    try:
        serving = create_server(application, listen=f"127.0.0.1:{port}", threads=THREADS, ident="keelturn")
    except OSError as error:
        print(f"Port {port} cannot be used ({error.strerror}). Choose another: PORT={port + 1} make demo", file=sys.stderr)
        return 1
    print(f"\nKeel Turn is at http://127.0.0.1:{port}   (Ctrl C stops it)", flush=True)
    serving.run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
