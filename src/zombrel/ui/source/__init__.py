"""The board of signal chains."""
