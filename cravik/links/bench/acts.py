"""What changes the list of lines on the bench: adding, removing, moving one, and letting it sell an item.

An act is sent with the sheet, so what was typed is kept first; one registry, ``ACTS``, has them all.
"""

from __future__ import annotations

import copy
import re
from collections.abc import Callable

from cravik.catalogue.drafts import (
    MAX_OPTION_NAME,
    ItemDraft,
    OptionDraft,
    OptionGroupDraft,
    PriceDraft,
    variants_fault,
)
from cravik.catalogue.models import Item
from cravik.catalogue.queries import item_called
from cravik.catalogue.services import make_item
from cravik.core.coded import Coded
from cravik.core.documents.data import CodeData, LimitsData, LineData, LinkData, PlanData, put, put_or_drop, without
from cravik.core.documents.parts import MAX_LINES
from cravik.core.errors import Fault
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import MAX_TITLE_LENGTH
from cravik.core.pricing.tax import STANDARD
from cravik.links.bench.acting import Acting, ActRefused
from cravik.links.bench.advising import KEY_LENGTH, MAX_DISMISSED, mend_by, put_mended
from cravik.links.bench.asking import ask, drop_question
from cravik.links.bench.history import BenchState, sell_again, step_back, step_forward
from cravik.links.bench.parts.pictures import OptionPictures
from cravik.links.bench.parts.stock import FirstCountForm, ItemStock, count_anew
from cravik.links.bench.said import shown_change
from cravik.links.bench.taking import sell_all, sell_any, sell_one
from cravik.links.life.from_setup import still_there
from cravik.links.models import MAX_NOTE_LENGTH, Link, SoldItem, Todo, items_of_draft
from cravik.links.places.naming import free_key
from cravik.setup.defaults import defaults_of
from cravik.ui.fields import clean_line


def _add(acting: Acting) -> None:
    """A line more, of what was typed: an item of the catalogue where it is the name or code of one."""
    lines = acting.draft.lines
    name = clean_line(str(acting.sent.get("new_thing", "")))
    if not name:
        raise ActRefused.of("thing_missing", "new_thing")
    if len(name) > MAX_TITLE_LENGTH:
        raise ActRefused.of("thing_name_too_long", "new_thing", length=len(name), most=MAX_TITLE_LENGTH)
    if len(lines) >= MAX_LINES:
        raise ActRefused.of("too_many_things", "new_thing", most=MAX_LINES)
    item = item_called(acting.link.business, name)
    key = free_key(name, [line["key"] for line in lines], "line")
    line: LineData = {"key": key, "name": item.name if item else name}
    if item and item.price is not None and item.currency == acting.draft.document["offer"]["currency"]:
        line["price"] = {"kind": "fixed", "amount": item.price.major}
    if acting.sent.get("new_extra"):
        line["optional"] = True
    if item:
        acting.let_sell(key, item)
    acting.draft.put_in_offer(lines=[*lines, line])
    acting.opens, acting.done = f"kind-{key}", Coded("line_added", line=line["name"])


def _remove(acting: Acting) -> None:
    """Take the line out, and with it what speaks of it alone."""
    place, lines, document = acting.place, acting.draft.lines, copy.deepcopy(acting.draft.document)
    acting.draft.document = document
    acting.done = Coded("line_removed", line=lines[place].get("name") or "")
    if len(lines) == 1:
        raise ActRefused.of("last_thing")
    SoldItem.objects.filter(link=acting.link, version=None, line=acting.line).delete()
    acting.draft.former_prices.pop(acting.line, None)
    items = {key: code for key, code in document.get("items", {}).items() if key != acting.line}
    steps = [step for step in document.get("steps", []) if step["line"] != acting.line]
    codes = [left for code in document["offer"].get("codes", []) if (left := _code_without(code, acting.line))]
    known = {code["code"] for code in codes}
    rules = {code: rule for code, rule in document.get("code_rules", {}).items() if code in known}
    limits = put_or_drop(document.get("limits", {}), **_counts_without(document, acting.line))
    exempt = without(document.get("no_withdrawal", {}), acting.line)
    acting.draft.document = put_or_drop(
        document, items=items, steps=steps, code_rules=rules, limits=limits, no_withdrawal=exempt
    )
    acting.draft.document["offer"] = put_or_drop(document["offer"], codes=codes)
    _forget_prices(acting.draft.document["offer"].get("plan", {}), acting.line)
    acting.put_lines([*lines[:place], *lines[place + 1 :]])


def _counts_without(document: LinkData, line: str) -> LimitsData:
    """What the limits say of pieces, but for the line's."""
    limits = document.get("limits", {})
    return {
        "pieces": without(limits.get("pieces", {}), line),
        "pieces_per_buyer": without(limits.get("pieces_per_buyer", {}), line),
        "counted_as": without(limits.get("counted_as", {}), line),
    }


def _forget_prices(plan: PlanData, line: str) -> None:
    """Take the line's own prices out of the plan, and out of those that a buyer picks from."""
    choices = plan.get("of", [])
    for choice in choices:
        choice.get("prices", {}).pop(line, None)
    for simple in (plan, *(choice["plan"] for choice in choices)):
        first = simple.get("first", {}).get("prices", {})
        if first.pop(line, None) and not first:
            del simple["first"]


def _code_without(code: CodeData, line: str) -> CodeData | None:
    """The code without that line; None where it was for nothing else."""
    lines = [key for key in code.get("lines", []) if key != line]
    if code.get("line") == line or ("lines" in code and not lines):
        return None
    return put(code, lines=lines) if lines else code


def _move(by: int) -> Callable[[Acting], None]:
    def move(acting: Acting) -> None:
        place, lines = acting.place, list(acting.draft.lines)
        if 0 <= place + by < len(lines):
            lines.insert(place + by, lines.pop(place))
        acting.draft.put_in_offer(lines=lines)
        acting.opens, acting.done = f"name-{acting.line}", Coded("lines_moved")

    return move


def _make_item(acting: Acting) -> None:
    """Keep what the line sells in the catalogue, with the price that it has here."""
    line = acting.draft.lines[acting.place]
    if SoldItem.objects.filter(link=acting.link, version=None, line=acting.line).exists():
        raise ActRefused.of("in_catalogue_already")
    if not line.get("name"):
        raise ActRefused.of("thing_nameless")
    item = make_item(
        acting.link.business, _item_of(line, acting.draft.document["offer"]["currency"]), acting.now, by=acting.by
    )
    acting.let_sell(acting.line, item)
    acting.opens, acting.done = f"name-{acting.line}", Coded("item_made", item=item.name)


def _count(acting: Acting) -> None:
    """Count what the line sells, which keeps it in the catalogue; of what has options, each is counted there."""
    form = FirstCountForm(acting.sent, acting.line)
    if not form.is_valid():
        raise ActRefused.of("field_refused", form.add_prefix("count"), trouble=str(form.errors["count"][0]))
    has_options = bool(acting.draft.lines[acting.place].get("choices"))
    count = form.cleaned_data["count"]
    if count is None and not has_options:
        raise ActRefused.of("count_missing", form.add_prefix("count"))
    _make_item(acting)
    if not has_options:
        count_anew(
            SoldItem.objects.get(link=acting.link, version=None, line=acting.line).item, count, acting.now, by=acting.by
        )
    acting.opens = f"stock-{acting.line}"


def _add_joining_fee(acting: Acting) -> None:
    """A line that is charged with the first payment alone."""
    lines = acting.draft.lines
    if len(lines) >= MAX_LINES:
        raise ActRefused.of("too_many_things", most=MAX_LINES)
    key = free_key("Joining fee", [line["key"] for line in lines], "line")
    acting.draft.put_in_offer(lines=[*lines, {"key": key, "name": "Joining fee", "once": True}])
    acting.opens, acting.done = f"kind-{key}", Coded("joining_fee_added")


def _mend(acting: Acting) -> None:
    """Do what mends the matter of the advice whose key stands in the line's place."""
    acting.settle()
    mend = mend_by(acting.link, acting.line)
    if mend is None:
        raise ActRefused.of("advice_gone")
    put_mended(acting.draft, mend)
    acting.done = mend.done


def _dismiss(acting: Acting) -> None:
    """Say the advice no more until its figures change."""
    keys = [key[:KEY_LENGTH] for key in acting.line.split("+")[:MAX_DISMISSED]]
    kept = [key for key in acting.link.dismissed_advice if key not in keys]
    acting.link.dismissed_advice = [*kept, *keys][-MAX_DISMISSED:]
    acting.link.save(update_fields=["dismissed_advice"])


def _step(take: Callable[[Link], BenchState | None]) -> Callable[[Acting], None]:
    def step(acting: Acting) -> None:
        acting.settle()
        state = take(acting.link)
        if state is None:
            raise ActRefused.of("no_step_left")
        acting.draft.document = sell_again(acting.link, state["draft"])
        acting.draft.former_prices = state["former_prices"]

    return step


def _go_back(acting: Acting) -> None:
    """Lay what the version of that number was made from on the bench. Name and labels stay as they are."""
    number = int(acting.line) if re.fullmatch(r"\d{1,6}", acting.line, re.ASCII) else 0
    version = acting.link.versions.filter(number=number).first()
    if version is None:
        raise ActRefused.of("version_unknown")
    kept = {name: part for name, part in acting.draft.document.items() if name in ("name", "labels")}
    former = put(without(version.document, "labels"), **kept)
    draft = still_there(former, defaults_of(acting.link.business))
    acting.draft.document = sell_again(acting.link, draft)
    acting.done = Coded("version_restored", version=number)


def _say(acting: Acting) -> None:
    """Do what was said in one line, as it was shown."""
    acting.settle()
    shown = shown_change(acting.link, clean_line(str(acting.sent.get("change_said", ""))), acting.now)
    if not shown.can_be_made:
        raise ActRefused.of("change_not_understood")
    acting.draft.document = shown.draft
    notes = [Todo(link=acting.link, text=note[:MAX_NOTE_LENGTH], made_at=acting.now) for note in shown.said.notes]
    Todo.objects.bulk_create(notes)
    acting.done = Coded("change_said", words=shown.text[:MAX_NOTE_LENGTH])


def _settle_note(acting: Acting) -> None:
    """The note is done, or was none: either way it stands there no longer."""
    number = int(acting.line) if re.fullmatch(r"\d{1,18}", acting.line, re.ASCII) else 0
    Todo.objects.filter(link=acting.link, pk=number).delete()


def _write(kind: type[ItemStock] | type[OptionPictures], panel: str) -> Callable[[Acting], None]:
    """Keep what is filled in about the item that the line sells."""

    def write(acting: Acting) -> None:
        item = items_of_draft(acting.link).get(acting.line)
        if item is None:
            raise ActRefused.of("thing_gone")
        if refused := kind(item, acting.sent).write(acting.now, acting.by):
            fields = [(name, words) for name, each in refused.items() for words in each]
            raise ActRefused(*(Fault("field_refused", name, trouble=words) for name, words in fields))
        acting.opens = f"{panel}-{acting.line}"

    return write


def _item_of(line: LineData, currency: str) -> ItemDraft:
    """The item that the line would be."""
    groups = line.get("choices", [])
    if fault := variants_fault(len(group["options"]) for group in groups):
        raise ActRefused(fault)
    names = (each["name"] for group in groups for each in (group, *group["options"]))
    if long := next((name for name in names if len(name) > MAX_OPTION_NAME), ""):
        raise ActRefused.of("option_name_too_long", name=long, most=MAX_OPTION_NAME)
    price, ships = line.get("price", {}), line.get("ships", False)
    fixed = price.get("kind") == "fixed" and price.get("amount")
    nothing = Money(0, currency)
    return ItemDraft(
        name=line["name"],
        words="",
        kind=Item.Kind.GOODS if ships else Item.Kind.SERVICE,
        code="",
        weight_g=line.get("weight_g", 0),
        tax_category=line.get("tax_category", STANDARD),
        currency=currency,
        prices=(PriceDraft("", Money.parse(price["amount"], currency)),) if fixed else (),
        option_groups=tuple(
            OptionGroupDraft(
                group["name"],
                tuple(
                    OptionDraft(
                        option["name"],
                        Money.parse(option["add"], currency) if option.get("add") else nothing,
                        option.get("weight_g", 0),
                    )
                    for option in group["options"]
                ),
            )
            for group in groups
        ),
    )


ACTS: dict[str, Callable[[Acting], None]] = {
    "add": _add,
    "remove": _remove,
    "up": _move(-1),
    "down": _move(1),
    "keep": _make_item,
    "count": _count,
    "joining": _add_joining_fee,
    "any": sell_any,
    "all": sell_all,
    "one_of": sell_one,
    "stock": _write(ItemStock, "stock"),
    "show": _write(OptionPictures, "pictures"),
    "ask": ask,
    "drop_question": drop_question,
    "mend": _mend,
    "dismiss": _dismiss,
    "undo": _step(step_back),
    "redo": _step(step_forward),
    "version": _go_back,
    "note_done": _settle_note,
    "say": _say,
}
