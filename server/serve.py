"""`python -m server.serve --port 8000`: the application behind the production WSGI server, on this machine
only.

With --demo the database is brought up to date first, and the demo school loaded if nobody is there: in this
one process, because starting another costs seconds."""

import argparse
import sys
from threading import Thread

from django.core.management import call_command
from waitress.server import create_server

from server.school.demo.people import PASSWORD, PEOPLE
from server.wsgi import application

# SQLite has one writer at a time and the core frees the interpreter while it computes: eight threads suit two
# cores.
THREADS = 8


def get_ready() -> None:
    """What the first plan would otherwise wait for: the compiled engine off the disk, and the libraries that
    load slowly."""
    import scipy.interpolate  # noqa: F401
    import scipy.optimize  # noqa: F401
    import scipy.stats.qmc  # noqa: F401

    from keelturn.spinning.warm import warm

    warm()


def main() -> int:
    parser = argparse.ArgumentParser(description="Serve Keel Turn.")
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument(
        "--demo", action="store_true", help="migrate, and load the demo school into an empty database, first"
    )
    arguments = parser.parse_args()
    port = arguments.port
    if arguments.demo:
        print("== Database brought up to date", flush=True)
        call_command("migrate", verbosity=0)
        print("== Demo school, if the database is empty (half a minute the first time)", flush=True)
        call_command("load_demo", "--if-empty")
    Thread(target=get_ready, daemon=True).start()
    try:
        serving = create_server(application, listen=f"127.0.0.1:{port}", threads=THREADS, ident="keelturn")
    except OSError as error:
        print(
            f"Port {port} cannot be used ({error.strerror}). Choose another: PORT={port + 1} make demo",
            file=sys.stderr,
        )
        return 1
    if arguments.demo:
        print(f"\nDemo log-ins, all with the password {PASSWORD}:")
        for username, name, role, _ in PEOPLE:
            print(f"    {username:8}{name}, {role}")
    print(f"\nKeel Turn is at http://127.0.0.1:{port}   (Ctrl C stops it)", flush=True)
    serving.run()
    return 0


if __name__ == "__main__":
    sys.exit(main())
