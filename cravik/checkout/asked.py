"""The fields that a link's page has, by their names: what can be touched on it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from cravik.checkout.parts.base import Offered, OrderPart
from cravik.checkout.selection import Selection
from cravik.links.life.shown_version import ShownVersion, shown_version
from cravik.links.models import Version

#: The step of what is decided of the things that are sold.
_STEP = "The choice"


@dataclass(frozen=True)
class AskedField:
    """A field of the page: what it is called, the step that it belongs to, whether its seller can leave it out or can
    change nothing of it, and whether it has to be filled in."""

    name: str
    step: str
    label: str
    may_go: bool = False
    fixed: bool = False
    is_required: bool = False


def asked_fields(version: ShownVersion) -> tuple[AskedField, ...]:
    """In the order in which they stand on the page."""
    selection = Selection(Offered(version.offer, version, ""))
    several = len(selection.lines) > 1
    of_lines = [
        AskedField(name, _STEP, f"{form.line.name}: {form[name].label}" if several else str(form[name].label))
        for form in selection.lines
        for name in form.fields
    ]
    of_order = [
        AskedField(
            name,
            part.step,
            str(part[name].label),
            may_go=_is_among(part.may_go, name),
            fixed=_is_among(part.fixed, name),
            is_required=_is_required(part, name),
        )
        for part in selection.parts
        for name in part.fields
    ]
    return (*of_lines, *of_order)


@lru_cache(maxsize=512)
def names_asked(version_id: int) -> frozenset[str]:
    """The names of the fields of a version's page; none where there is no such version any more."""
    try:
        version = shown_version(version_id)
    except Version.DoesNotExist:
        return frozenset()
    return frozenset(field.name for field in asked_fields(version))


def _is_among(names: tuple[str, ...], name: str) -> bool:
    return name in names or "*" in names


def _is_required(part: OrderPart, name: str) -> bool:
    """Which answers can be left out is the core's to say, not the form's."""
    questions = {f"answer.{question.key}": question for question in part.offered.version.content.questions}
    return questions[name].required if name in questions else part.fields[name].required
