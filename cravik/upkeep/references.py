"""References that people read aloud and type."""

from __future__ import annotations

import secrets

#: Crockford's alphabet: nothing in it is mistaken for something else.
READABLE = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"


def new_reference(length: int) -> str:
    """So many signs that nobody can guess, of 5 bits each."""
    return "".join(secrets.choice(READABLE) for _ in range(length))
