"""What buyers take of several things: all of them, any number of each, or one of them. Each is one act on the bench."""

from __future__ import annotations

from cravik.core.coded import Coded
from cravik.core.documents.data import LevelData, LineData, PriceData, put, without
from cravik.core.documents.parts import MAX_LEVELS
from cravik.core.pricing.tax import STANDARD
from cravik.links.bench.acting import Acting, ActRefused
from cravik.links.bench.parts.prices import PRICE_PARTS, kind_of
from cravik.links.models import SoldItem
from cravik.links.places.naming import free_key


def sell_any(acting: Acting) -> None:
    """Let buyers take any number of each thing, and at least one of them all."""
    lines = acting.draft.lines
    if len(lines) < 2:
        raise ActRefused.of("only_one_thing")

    def any_number(line: LineData) -> LineData:
        most = PRICE_PARTS[kind_of(line.get("price"))].most_pieces
        quantity = line.get("quantity") or {"max": most}
        return put(line, optional=True, quantity=quantity)

    acting.draft.put_in_offer(lines=[any_number(line) for line in lines])
    acting.done = Coded("any_sold")


def sell_all(acting: Acting) -> None:
    """Let everything be in every order."""
    lines = [without(line, "optional") for line in acting.draft.lines]
    acting.draft.put_in_offer(lines=lines)
    acting.done = Coded("all_sold")


def sell_one(acting: Acting) -> None:
    """Make one thing of them, of which buyers pick one: its name is that of the whole, its levels are the things."""
    lines, offer = acting.draft.lines, acting.draft.document["offer"]
    if len(lines) < 2:
        raise ActRefused.of("only_one_thing")
    if len(lines) > MAX_LEVELS:
        raise ActRefused.of("too_many_to_pick_from", most=MAX_LEVELS, count=len(lines))
    if SoldItem.objects.filter(link=acting.link, version=None).exists():
        raise ActRefused.of("things_of_catalogue")
    for line in lines:
        if line.get("choices") or line.get("price", {}).get("kind") != "fixed" or not line["price"].get("amount"):
            raise ActRefused.of("thing_needs_one_price", line=line.get("name") or "")
    if len({(line.get("ships", False), line.get("tax_category", STANDARD)) for line in lines}) > 1:
        raise ActRefused.of("things_differ")
    if acting.draft.document.get("steps") or offer.get("codes") or offer.get("plan", {}).get("kind", "once") != "once":
        raise ActRefused.of("things_referred_to")
    if acting.draft.document.get("limits", {}).get("pieces"):
        raise ActRefused.of("things_limited")
    taken: list[str] = []
    levels: list[LevelData] = []
    for line in lines:
        key = free_key(line.get("name", ""), taken, "level")
        taken.append(key)
        levels.append({"key": key, "name": line.get("name") or key, "amount": line["price"]["amount"]})
    price: PriceData = {"kind": "levels", "levels": levels}
    one: LineData = {"key": lines[0]["key"], "name": offer.get("title") or lines[0].get("name", ""), "price": price}
    kept = {name: part for name, part in lines[0].items() if name in ("ships", "tax_category", "weight_g")}
    if lines[0].get("quantity") and all(line.get("quantity") == lines[0]["quantity"] for line in lines):
        kept["quantity"] = lines[0]["quantity"]
    acting.put_lines([put(one, **kept)])
    acting.opens, acting.done = f"kind-{one['key']}", Coded("one_sold")
