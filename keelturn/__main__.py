import sys

from keelturn.cli import main

sys.exit(main())
