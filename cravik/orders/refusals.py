"""What is said of what orders do not take."""

from __future__ import annotations

from cravik.core.text.faults.wording import Words

NUMBERS: Words = {
    "number_was_given": "{label} was given already. Begin at {free:,} or later, or choose another prefix.",
    "number_too_large": "A series begins at {most:,} at most.",
    "series_meet": "{one} and {other} would come to the same numbers. Give them different prefixes.",
}
