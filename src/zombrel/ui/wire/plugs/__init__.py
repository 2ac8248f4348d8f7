"""Plugs on screen: faces, cavities, continuity, remaps."""
