"""What ``./zombrel`` runs: as a script it spares the start the machinery of ``python -m``."""

import gc
import sys

# Starting up makes many objects and drops almost none: collecting meanwhile is wasted.
# Once there is a window, ``zombrel.ui.threads`` collects by a clock of its own.
gc.disable()

from zombrel.cli.main import main  # noqa: E402

sys.exit(main(sys.argv[1:]))
