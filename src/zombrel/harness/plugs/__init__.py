"""Plugs and leads: faces, pin-outs, slips, probing, remaps, terminals, changes."""
