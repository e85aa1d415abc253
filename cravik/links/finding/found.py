"""Finding links: what a seller looks for, as it stands in the address of a list."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, fields

from django.db.models import Case, Q, QuerySet, Value, When

from cravik.catalogue.models import Item
from cravik.core.text.said.orders import SaidOrder
from cravik.links.models import Link
from cravik.people.models import Business
from cravik.setup.models import Look
from cravik.ui.fields import parse_id
from cravik.ui.lists import Hiding

# What sells stands above what does not yet, and that above what no longer does.
_BY_STATE = Case(
    *(When(state=state, then=Value(place)) for place, state in enumerate(("live", "paused", "draft"))), default=Value(3)
)
#: Beside the states that links have.
ARCHIVED = "archived"
#: By what a list is sorted in the database; what counts up visits and money is sorted by whoever has them.
_ORDERS = {"newest": ("-made_at", "-id"), "name": ("name", "id"), "state": (_BY_STATE, "-made_at", "-id")}
_MAX_TYPED = 100


@dataclass(frozen=True)
class Sought:
    """What is looked for; empty parts are not. ``item`` is an id, ``look`` the name of a look."""

    q: str = ""
    state: str = ""
    label: str = ""
    item: str = ""
    look: str = ""
    changed: str = ""

    @classmethod
    def of(cls, query: Mapping[str, str]) -> Sought:
        """As the address says it; what it does not know is not looked for."""
        typed = {each.name: " ".join(query.get(each.name, "").split())[:_MAX_TYPED] for each in fields(cls)}
        if typed["state"] not in (*Link.State.values, ARCHIVED):
            typed["state"] = ""
        if parse_id(typed["item"]) < 1:
            typed["item"] = ""
        return cls(**typed | {"changed": "yes" if typed["changed"] == "yes" else ""})

    @property
    def query(self) -> dict[str, str]:
        """As it stands in an address, without what is not looked for."""
        return {each.name: value for each in fields(self) if (value := getattr(self, each.name))}


def sought_of(said: SaidOrder) -> Sought:
    """The links that are meant by what was said of many."""
    return Sought(q=said.words[:_MAX_TYPED], state=said.state, label=said.label[:_MAX_TYPED])


def found_links(business: Business, sought: Sought) -> QuerySet[Link]:
    """The business's links that match all that is looked for. Archived ones are found only if looked for."""
    links = Link.objects.of(business).filter(archived_at__isnull=sought.state != ARCHIVED)
    if sought.state in Link.State.values:
        links = links.filter(state=sought.state)
    for word in sought.q.split()[:8]:
        in_any = Q(name__icontains=word) | Q(draft__offer__title__icontains=word)
        links = links.filter(in_any | Q(id__in=Link.objects.filter(addresses__slug__icontains=word)))
    if sought.label:
        links = links.filter(id__in=Link.objects.filter(label_rows__label=sought.label))
    if sought.item:
        links = links.filter(id__in=Link.objects.filter(sold_items__item=int(sought.item), sold_items__version=None))
    if sought.changed:
        links = links.filter(is_changed=True)
    return links.filter(id__in=_with_look(links, business, sought.look)) if sought.look else links


def sorted_links(links: QuerySet[Link], order: str) -> QuerySet[Link]:
    """By state and then the newest first, or by that order, which begins with a hyphen where it is turned round."""
    keys = _ORDERS.get(order.removeprefix("-"))
    if keys is None:
        return links.order_by(_BY_STATE, "-made_at", "-id")
    sorted_so = links.order_by(*keys)
    return sorted_so.reverse() if order.startswith("-") else sorted_so


def hidings(business: Business, sought: Sought) -> Iterator[Hiding]:
    """Each part that hides something, in words."""
    if sought.q:
        yield Hiding("q", f"matches “{sought.q}”", "Any words")
    if sought.state:
        yield Hiding("state", "is archived" if sought.state == ARCHIVED else f"is {sought.state}", "Any state")
    if sought.label:
        yield Hiding("label", f"is labelled “{sought.label}”", "Any label")
    if sought.item:
        item = Item.objects.of(business).filter(id=sought.item).first()
        yield Hiding("item", f"sells {f'“{item.name}”' if item else 'an item that is not there'}", "Any item")
    if sought.look:
        yield Hiding("look", f"wears “{sought.look}”", "Any look")
    if sought.changed:
        yield Hiding("changed", "has changes that are not published", "Without changes too")


def _with_look(links: QuerySet[Link], business: Business, look: str) -> list[int]:
    """Those that wear the look: by choice, or because they follow Setup, whose default it is."""
    is_default = Look.objects.filter(business=business, name=look, is_default=True).exists()
    rows = links.values_list("id", "draft__page__look", "draft__follows")
    return [pk for pk, own, follows in rows if own == look or (is_default and "look" in (follows or ()))]


def looks_of(business: Business) -> list[str]:
    """The names of the looks that a link may wear."""
    return list(Look.objects.filter(business=business).order_by("name").values_list("name", flat=True))
