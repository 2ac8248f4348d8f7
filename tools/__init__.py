"""Tools of a checkout; none of it is part of the program."""
