"""Tests of the window; the toolkit's enumerations are made as the program makes them."""

from zombrel.cli.enums import at_once

at_once()
