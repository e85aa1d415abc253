"""The bench: where a link is made.

Each subject of a link is a part (``parts/``) with its fields, its template, and its piece of the link document; the
sheet, saving and the sentence go through them all and know none by name.
"""
