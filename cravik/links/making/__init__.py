"""New links: by a line that says what is sold, by a form, of an item, as a copy, from a document."""
