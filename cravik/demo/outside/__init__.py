"""A site of somebody else's, on a port of its own and so of another origin, to try buttons on."""
