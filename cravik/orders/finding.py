"""Finding orders: what a seller looks for, as it stands in the address of the list and of what is exported of it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, fields
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from django.db.models import Count, Exists, OuterRef, Q, Sum

from cravik.core.errors import AmountRefused
from cravik.core.pricing.discounts import normal_code
from cravik.core.pricing.money import Money
from cravik.core.text.amount_text import parse_signed_amount
from cravik.core.text.countries import country_words
from cravik.core.text.money_text import format_money_clearly
from cravik.links.models import Link, LinkCode, Spot
from cravik.orders.models import Order, OrderQuerySet, Stage, Wish
from cravik.orders.search import answered, matching
from cravik.people.models import Business
from cravik.setup.periods import day_in
from cravik.setup.ways import NOTHING, OFFERED_WAYS
from cravik.ui.fields import parse_id
from cravik.ui.lists import Hiding
from cravik.ui.places import country_choices

_KEPT = Q(paid_at__isnull=False, is_refunded=False)
#: Each state by the word in which it stands in addresses, with what is in it and how it is said.
STATES: Mapping[str, tuple[Q, str]] = {
    "to-do": (_KEPT & Q(stage=Stage.TO_DO), "to do"),
    "sent": (_KEPT & Q(stage=Stage.SENT), "sent"),
    "done": (_KEPT & Q(stage=Stage.DONE), "done"),
    "refunded": (Q(paid_at__isnull=False, is_refunded=True), "refunded"),
    "unpaid": (Q(paid_at__isnull=True), "unpaid"),
}
#: What the list can be sorted by, in the order of its columns, and by which fields. Numbers are given as orders are
#: made, so the newest has the largest.
COLUMNS: Mapping[str, str] = {"number": "No.", "buyer": "Buyer", "title": "For", "amount": "Amount"}
_KEYS: Mapping[str, tuple[str, ...]] = {
    "number": ("-number",),
    "buyer": ("buyer_name", "id"),
    "title": ("title", "id"),
    "amount": ("-taken_minor", "-id"),
}
#: How orders were paid, by the names of ways to pay, in words.
WAYS: Mapping[str, str] = {way.name: way.label for way in OFFERED_WAYS.values()} | {NOTHING: "Nothing to pay"}
_MAX_TYPED = 100
_MAX_WALKED = 5000


@dataclass(frozen=True)
class SoughtOrders:
    """What is looked for; empty parts are not. ``since`` and ``until`` are days, both included, ``link`` and ``spot``
    ids, ``code`` a discount code, ``place`` a country's code, ``way`` one of ``WAYS``, ``option`` a part of an option's
    name, ``answer`` one of an answer. ``least`` and ``most`` bound what was paid, net of refunds, as amounts of the
    business's currency are typed. ``wish`` is ``open`` of those whose buyer asked for something that is not settled.
    """

    q: str = ""
    state: str = ""
    since: str = ""
    until: str = ""
    link: str = ""
    spot: str = ""
    code: str = ""
    place: str = ""
    way: str = ""
    option: str = ""
    answer: str = ""
    least: str = ""
    most: str = ""
    wish: str = ""
    rehearsals: str = ""

    @classmethod
    def of(cls, query: Mapping[str, str]) -> SoughtOrders:
        """As the address says it; what it does not know is not looked for."""
        typed = {each.name: " ".join(query.get(each.name, "").split())[:_MAX_TYPED] for each in fields(cls)}
        known = {
            "state": typed["state"] in STATES,
            "since": day_in(typed["since"]) is not None,
            "until": day_in(typed["until"]) is not None,
            "link": parse_id(typed["link"]) > 0,
            "spot": parse_id(typed["spot"]) > 0,
            "place": len(typed["place"]) == 2 and typed["place"].isalpha() and typed["place"].isascii(),
            "way": typed["way"] in WAYS,
            "wish": typed["wish"] == "open",
            "rehearsals": typed["rehearsals"] == "yes",
        }
        return cls(**typed | {name: "" for name, is_known in known.items() if not is_known})

    @property
    def query(self) -> dict[str, str]:
        """As it stands in an address, without what is not looked for."""
        return {each.name: value for each in fields(self) if (value := getattr(self, each.name))}


def found_orders(business: Business, sought: SoughtOrders, order: str = "") -> OrderQuerySet:
    """The business's orders that match all that is looked for, the newest first, or sorted by one of ``COLUMNS``,
    which begins with a hyphen where it is turned round."""
    # One of a list, since SQLite finds and sorts nothing by an index where only "not" is said of its column.
    orders = Order.objects.of(business).filter(rehearsal__in=[sought.rehearsals == "yes"])
    orders = orders.filter(_asked(business, sought))
    found = matching(orders, business, sought.q).select_related("link")
    keys = _KEYS.get(order.removeprefix("-"), ("-number",))
    return found.order_by(*keys).reverse() if order.startswith("-") else found.order_by(*keys)


def _asked(business: Business, sought: SoughtOrders) -> Q:
    zone, asked = ZoneInfo(business.time_zone), Q()
    if sought.state:
        asked &= STATES[sought.state][0]
    if since := day_in(sought.since):
        asked &= Q(made_at__gte=_midnight(since, zone))
    if until := day_in(sought.until):
        asked &= Q(made_at__lt=_midnight(until + timedelta(days=1), zone))
    if sought.link:
        asked &= Q(link=int(sought.link))
    if sought.spot:
        asked &= Q(spot=int(sought.spot))
    if sought.code:
        asked &= Q(code__normal=normal_code(sought.code))
    if sought.place:
        asked &= Q(country=sought.place.upper())
    if sought.way:
        asked &= Q(way=sought.way)
    if sought.option:
        asked &= Q(options__icontains=sought.option)
    if sought.answer:
        asked &= answered(sought.answer)
    if sought.wish:
        asked &= Q(Exists(Wish.objects.filter(order=OuterRef("pk"), settled_at=None)))
    least, most = (_amount(typed, business) for typed in (sought.least, sought.most))
    if least is not None or most is not None:
        asked &= Q(currency=business.currency)
    if least is not None:
        asked &= Q(taken_minor__gte=least.minor)
    if most is not None:
        asked &= Q(taken_minor__lte=most.minor)
    return asked


def _amount(typed: str, business: Business) -> Money | None:
    """What was typed as an amount; None where nothing was, or where it is none, which ``misread`` says."""
    try:
        return parse_signed_amount(typed, business.currency) if typed else None
    except AmountRefused:
        return None


def misread(business: Business, sought: SoughtOrders) -> list[str]:
    """What was typed as an amount and is none, so that nothing is looked for by it."""
    return [typed for typed in (sought.least, sought.most) if typed and _amount(typed, business) is None]


def _midnight(day: date, zone: ZoneInfo) -> datetime:
    return datetime.combine(day, time(), zone)


def neighbours(order: Order, business: Business, sought: SoughtOrders, sort: str) -> tuple[Order | None, Order | None]:
    """The orders before and after that one in the list that was found and sorted so, whether it is in it still or not.

    In a list that is sorted otherwise than by number, only among the first ``_MAX_WALKED``.
    """
    found = found_orders(business, sought, sort)
    by_number = found.order_by("number")
    larger = by_number.filter(number__gt=order.number).first()
    smaller = by_number.filter(number__lt=order.number).last()
    if sort.removeprefix("-") in ("", "number"):
        return (smaller, larger) if sort.startswith("-") else (larger, smaller)
    ids = list(found.values_list("id", flat=True)[:_MAX_WALKED])
    if order.pk not in ids:
        return None, None
    place = ids.index(order.pk)
    beside = found.in_bulk(ids[max(0, place - 1) : place] + ids[place + 1 : place + 2])
    return beside.get(ids[place - 1]) if place else None, beside.get(ids[place + 1]) if place + 1 < len(ids) else None


def counted_and_summed(orders: OrderQuerySet, currency: str) -> tuple[int, list[Money]]:
    """How many orders there are, and what was paid for them, net of refunds, one sum a currency, that one first."""
    own = Q(currency=currency)
    all_of = orders.order_by().aggregate(
        count=Count("id"), minor=Sum("taken_minor", filter=own), others=Count("id", filter=~own)
    )
    found = [(currency, all_of["minor"] or 0)]
    if all_of["others"]:  # told apart by themselves: sorting all of them by currency takes longer than all the rest
        others = orders.exclude(own).order_by("currency").values_list("currency")
        found += others.annotate(Sum("taken_minor"))
    return all_of["count"], [Money(minor, each) for each, minor in found if minor]


def hidings(business: Business, sought: SoughtOrders) -> Iterator[Hiding]:
    """Each part that hides something, in words."""
    if sought.q:
        yield Hiding("q", f"matches “{sought.q}”", "Any words")
    if sought.state:
        yield Hiding("state", f"is {STATES[sought.state][1]}", "Any state")
    if day := day_in(sought.since):
        yield Hiding("since", f"was made on {day:%-d %b %Y} or later", "No first day")
    if day := day_in(sought.until):
        yield Hiding("until", f"was made on {day:%-d %b %Y} or earlier", "No last day")
    if sought.link:
        link = Link.objects.of(business).filter(id=sought.link).first()
        yield Hiding("link", f"came by {f'“{link.name}”' if link else 'a link that is not there'}", "Any link")
    if sought.spot:
        spot = Spot.objects.filter(link__business=business, id=sought.spot).first()
        yield Hiding("spot", f"came by the spot {f'“{spot.name}”' if spot else 'that is not there'}", "Any spot")
    if sought.code:
        yield Hiding("code", f"used the discount code “{sought.code}”", "With and without codes")
    if sought.place:
        yield Hiding("place", f"has a buyer in {country_words(sought.place.upper())}", "Any country")
    if sought.way:
        paid = "had nothing to pay" if sought.way == NOTHING else f"was paid by {WAYS[sought.way].lower()}"
        yield Hiding("way", paid, "Any way to pay")
    if sought.option:
        yield Hiding("option", f"has an option with “{sought.option}”", "Any option")
    if sought.answer:
        yield Hiding("answer", f"has an answer with “{sought.answer}”", "Any answer")
    if sought.wish:
        yield Hiding("wish", "has a buyer who waits for an answer", "Answered or not")
    if (least := _amount(sought.least, business)) is not None:
        yield Hiding("least", f"brought {format_money_clearly(least)} or more", "No least amount")
    if (most := _amount(sought.most, business)) is not None:
        yield Hiding("most", f"brought {format_money_clearly(most)} or less", "No largest amount")


@dataclass(frozen=True)
class Choices:
    """What a seller can choose from to find orders: ids and names, codes, and countries by their codes."""

    links: list[tuple[int, str]]
    spots: list[tuple[int, str]]
    codes: list[str]
    places: list[tuple[str, str]]


def choices_of(business: Business, sought: SoughtOrders) -> Choices:
    """The business's links that are published, the spots of the chosen one, and its discount codes."""
    links = Link.objects.of(business).filter(version__isnull=False).order_by("name").values_list("id", "name")
    spots = Spot.objects.filter(link__business=business, link=int(sought.link or 0)).order_by("name")
    codes = LinkCode.objects.filter(link__business=business).order_by("normal").values_list("normal", flat=True)
    upper = [code.upper() for code in codes.distinct()]
    return Choices(list(links), list(spots.values_list("id", "name")), upper, country_choices())
