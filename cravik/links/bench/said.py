"""Changes that are said of a link in one line: what they would make of its draft, and why they can't be made."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast
from zoneinfo import ZoneInfo

from cravik.core.documents.data import (
    AsksData,
    CodeData,
    CodeRuleData,
    LineData,
    LinkData,
    PlanData,
    QuestionData,
    put,
    put_or_drop,
    without,
    without_empty,
)
from cravik.core.documents.link_draft import gaps_in
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.documents.writing import written
from cravik.core.pricing.discounts import code_with_keys
from cravik.core.text.faults import gap_words
from cravik.core.text.said.changes import Known, SaidChange, read_change
from cravik.core.text.said.pieces import When
from cravik.core.text.said.subjects.changing import Dropped
from cravik.links.life.from_setup import effective_of
from cravik.links.life.versions import changes_for_buyers
from cravik.links.models import Link, items_of_draft
from cravik.links.places.naming import free_key
from cravik.setup.defaults import defaults_of

#: What of a line a change can speak of.
_OF_A_LINE = ("price", "quantity", "choices", "optional", "once", "ships")


@dataclass(frozen=True)
class ShownChange:
    """A change as it was understood: what the draft would be, and what would differ, in the words of the versions."""

    text: str
    said: SaidChange
    draft: LinkData
    changes: tuple[str, ...] = ()
    #: Why the draft would not do, in sentences.
    gaps: tuple[str, ...] = ()

    @property
    def can_be_made(self) -> bool:
        return self.said.is_whole and not self.gaps


def shown_change(link: Link, text: str, now: datetime) -> ShownChange:
    """What the text would change of the link's draft."""
    zone = ZoneInfo(link.business.time_zone)
    said = read_change(
        text, link.draft["offer"]["currency"], When(now.astimezone(zone).date(), zone, now), known_of(link.draft)
    )
    draft = changed_draft(link.draft, said)
    if not said.is_whole:
        return ShownChange(text, said, draft)
    after = effective_of(
        draft, {line: item.pk for line, item in items_of_draft(link).items()}, defaults_of(link.business)
    )
    gaps = tuple(gap_words(gap) for gap in gaps_in(draft)) if after is None and link.effective is not None else ()
    changes: tuple[str, ...] = ()
    if after is not None and link.effective is not None:
        changes = changes_for_buyers(link.effective, after, link.business.time_zone) if after != link.effective else ()
    beside = [f"label “{label}”" for label in said.labels]
    beside += [f"without the label “{each.name}”" for each in said.cleared if each.kind == "label"]
    return ShownChange(text, said, draft, (*changes, *beside, *(f"to do: {note}" for note in said.notes)), gaps)


def known_of(draft: LinkData) -> Known:
    """What the draft has that a change can speak of."""
    offer = read_partial_offer(draft["offer"])
    return Known(
        offer.lines,
        offer.plan,
        tuple(code["code"] for code in draft["offer"].get("codes", []) if "code" in code),
        tuple(question.get("label", "") for question in draft.get("questions", [])),
        tuple(draft.get("labels", [])),
    )


def changed_draft(draft: LinkData, said: SaidChange) -> LinkData:
    """The draft with what was said in it."""
    lines = [_line(line, said) for line in draft["offer"]["lines"]]
    keys = [line["key"] for line in lines]
    own: dict[str, str] = {}
    for added in said.added:
        key = own[added.key] = free_key(added.name, keys, "line")
        keys.append(key)
        lines.append(put(LineData(key=key), **without(written(added), "key")))
    offer = put(draft["offer"], lines=lines)
    if said.plan is not None:
        plan = cast(PlanData, written(said.plan))
        offer = put_or_drop(offer, plan=plan if plan["kind"] != "once" else {})
    new = {code.code.casefold() for code in said.codes}
    codes = [code for code in offer.get("codes", []) if code.get("code", "").casefold() not in new]
    codes += [cast(CodeData, written(code_with_keys(code, own))) for code in said.codes]
    draft = put(draft, offer=put_or_drop(offer, codes=codes))
    ends = written(said.limits)
    draft = put(draft, offer=put_or_drop(draft["offer"], window=without(draft["offer"].get("window", {}), *ends)))
    limits = put(draft.get("limits", {}), **ends)
    steps = list(draft.get("steps", [])) + [cast(Any, written(step)) for step in said.steps]
    rules = {code: rule for code, rule in draft.get("code_rules", {}).items() if code.casefold() not in new}
    rules |= {code: cast(CodeRuleData, written(rule)) for code, rule in said.code_rules.items()}
    labels = list(dict.fromkeys([*draft.get("labels", []), *said.labels]))
    page = put_or_drop(draft.get("page", {}), **({"button": said.button} if said.button else {}))
    draft = put_or_drop(
        draft, limits=limits, steps=steps, code_rules=rules, labels=labels, page=page,
        asks=_asks(draft.get("asks", {}), said), questions=_questions(draft, said),
    )  # fmt: skip
    for dropped in said.cleared:
        draft = _without(draft, dropped)
    return draft


def _line(line: LineData, said: SaidChange) -> LineData:
    changed = said.lines.get(line["key"])
    if changed is None:
        return line
    return put(
        without(line, *_OF_A_LINE), **{name: part for name, part in written(changed).items() if name in _OF_A_LINE}
    )


def _asks(asks: AsksData, said: SaidChange) -> AsksData:
    more: dict[str, Any] = {name: ask for name, ask in (("phone", said.phone), ("address", said.address)) if ask}
    if said.invoice:
        more["invoice"] = "optional"
    if said.note is not None:
        more["note"] = {"ask": "optional", "label": said.note}
    return put(asks, **more)


def _questions(draft: LinkData, said: SaidChange) -> list[QuestionData]:
    questions = list(draft.get("questions", []))
    for question in said.questions:
        key = free_key(question.label, [each["key"] for each in questions], "question")
        questions.append(put(cast(QuestionData, written(question)), key=key))
    gone = {each.number for each in said.cleared if each.kind == "question"}
    return [question for number, question in enumerate(questions) if number not in gone]


def _without(draft: LinkData, dropped: Dropped) -> LinkData:
    """The draft without what was dropped."""
    offer = draft["offer"]
    match dropped.kind:
        case "closes" | "opens":
            name = f"{dropped.kind}_at"
            offer = put_or_drop(offer, window=without(offer.get("window", {}), name))
            return put_or_drop(put(draft, offer=offer), limits=without(draft.get("limits", {}), name))
        case "orders":
            return put_or_drop(draft, limits=without(draft.get("limits", {}), "orders", "pieces", "counted_as"))
        case "steps" | "questions":
            return put_or_drop(draft, **{dropped.kind: []})
        case "phone" | "address" | "note":
            return put_or_drop(draft, asks=without(draft.get("asks", {}), dropped.kind))
        case "code" | "codes":
            codes = offer.get("codes", []) if dropped.kind == "code" else []
            left = [code for code in codes if code["code"] != dropped.name]
            rules = {
                code: rule for code, rule in draft.get("code_rules", {}).items() if code in [c["code"] for c in left]
            }
            return put_or_drop(put(draft, offer=put_or_drop(offer, codes=left)), code_rules=rules)
        case "label":
            return put_or_drop(draft, labels=[each for each in draft.get("labels", []) if each != dropped.name])
        case "button":
            return put_or_drop(draft, page=without(draft.get("page", {}), "button"))
        case "was":
            lines = [
                put(line, price=without(line.get("price", {}), "was")) for line in offer["lines"] if "price" in line
            ]
            return put(draft, offer=put(offer, lines=lines)) if len(lines) == len(offer["lines"]) else draft
        case "options":
            return put(draft, offer=put(offer, lines=[without(line, "choices") for line in offer["lines"]]))
        case "plan":
            return put(draft, offer=without(offer, "plan"))
        case "trial":
            plan = without(offer.get("plan", {}), "trial_days", "trial_months")
            return put(draft, offer=put_or_drop(offer, plan=without_empty(plan)))
    return draft
