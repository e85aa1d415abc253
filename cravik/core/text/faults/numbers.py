"""What is said of how documents are numbered."""

from __future__ import annotations

from cravik.core.text.faults.wording import Words

WORDS: Words = {
    "prefix_too_long": "A prefix has {most} characters at most.",
    "prefix_of_rehearsals": "The numbers of rehearsals begin so. Choose another prefix.",
    "prefix_signs": "A prefix has letters, digits, spaces, hyphens, full stops and slashes.",
    "prefix_ends_in_digit": "“{text}” ends in a digit, so nobody could tell where the number begins. Add a hyphen.",
}
