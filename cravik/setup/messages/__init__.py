"""The wording of every message: originals, placeholders, what a seller wrote instead, and filling it in."""
