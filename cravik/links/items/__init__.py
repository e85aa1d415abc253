"""Links that sell items of the catalogue: what a line has from its item, and how links follow it."""
