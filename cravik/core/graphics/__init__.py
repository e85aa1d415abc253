"""Colours and shapes by rule: contrast, and the shades that a page needs."""
