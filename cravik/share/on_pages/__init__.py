"""A link on pages of others: how its button looks there, what those pages are told of it, and where it was seen."""
