"""What is said of the name of a handle that it cannot have."""

from __future__ import annotations

from cravik.core.english import counted
from cravik.core.text.faults.wording import Fields, Words


def _length(fields: Fields) -> str:
    length = counted(fields["length"], "character", "characters")
    return f"A handle has {fields['least']} to {fields['most']} letters and digits; this has {length}."


WORDS: Words = {
    "handle_length": _length,
    "handle_malformed": "A handle begins with a letter, and has letters, digits and single hyphens.",
    "handle_reserved": "“{name}” is reserved.",
}
