"""What is said of a QR code that would not be read."""

from __future__ import annotations

from cravik.core.english import counted
from cravik.core.text.faults.wording import Fields, Words

_PARTS = {"dark": "The modules", "eyes": "The corners"}


def _inverted(fields: Fields) -> str:
    part = _PARTS[fields["part"]]
    return f"{part} are lighter than the ground, which many phones do not read. Swap the colours."


def _contrast(fields: Fields) -> str:
    why = " of a small or styled code" if fields["needs_more"] else ""
    return (
        f"{_PARTS[fields['part']]} stand out from the ground by {fields['percent']} %; phones need"
        f" {fields['limit']} %{why}. Make them darker, or the ground lighter."
    )


def _quiet_zone(fields: Fields) -> str:
    modules = fields["modules"]
    width = f"{counted(modules, 'module', 'modules')} wide" if modules else "missing"
    return (
        f"The margin is {width}; the standard asks for {fields['limit']} modules."
        " Without it, phones do not find the code."
    )


WORDS: Words = {
    "inverted": _inverted,
    "contrast": _contrast,
    "quiet_zone": _quiet_zone,
    "covered": "The middle covers {covered:.1%} of the code; the most is {most:.1%}. Make it narrower.",
    "too_small": "At {width_mm:g} mm its modules would smear. Print it {limit} mm wide or more.",
}
