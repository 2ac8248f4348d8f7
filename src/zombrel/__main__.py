"""``python -m zombrel``: see ``cli.main``."""

import sys

from zombrel.cli.main import main

sys.exit(main(sys.argv[1:]))
