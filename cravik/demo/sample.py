"""Making the sample: a year of visits and orders from a fixed seed, ending today.

Rows are written in bulk and say exactly what the application itself would have written.
"""

from __future__ import annotations

import random
from bisect import bisect
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from django.db import transaction

from cravik.buyers.keys import buyer_key
from cravik.buyers.models import Buyer
from cravik.catalogue.models import Item
from cravik.checkout.models import Checkout, CheckoutLine
from cravik.core.documents.basket import write_basket
from cravik.core.documents.quote import write_kept_quote
from cravik.core.link.counted import Counted
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.destination import asked_of
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.quote import quote
from cravik.core.pricing.tax import Place
from cravik.core.statistics.ladder import Rung
from cravik.demo import catalogue
from cravik.demo.care import change_line, look_after, repriced, reshape
from cravik.demo.crowd import crowd_of
from cravik.demo.documents import begin_documents, end_documents
from cravik.demo.handing_out import hand_out
from cravik.demo.items import load_items
from cravik.demo.kinds import as_far_as_left, picked
from cravik.demo.over_time import FIRST_NUMBER, bought_at, run_over_time
from cravik.demo.seller import seller_of
from cravik.demo.sending import give_back, send_what_was_ordered
from cravik.demo.setup import decide_all
from cravik.events.kinds import Happening
from cravik.events.writing import About, write_all
from cravik.journal.models import Visit
from cravik.links.bench.saving import change_part
from cravik.links.life import lifecycle
from cravik.links.life.shown_version import ShownVersion, shown_version
from cravik.links.making import drafts
from cravik.links.making.copies import copy_link, make_link_of_item
from cravik.links.making.documents import import_link
from cravik.links.models import LinePieces, Link, LinkCode, LinkTally
from cravik.links.places import addresses
from cravik.links.places.spots import make_spot
from cravik.mailroom.services import deliver_waiting, queue_letters
from cravik.orders.acts.order_made import new_order
from cravik.orders.happened import DuePaid, OrderMade, about
from cravik.orders.invoicing.issuing import issue_for_order
from cravik.orders.letters import letters_about
from cravik.orders.models import PARTS, Order, OrderBook
from cravik.orders.paying.take import options_words
from cravik.orders.summing import sum_days
from cravik.payments.counter.gateway import in_groups
from cravik.payments.counter.models import CounterCharge, CounterEntry
from cravik.payments.models import Allocation, Attempt, Due, Movement
from cravik.payments.services import charge_moved
from cravik.payments.ways.card import ENDING
from cravik.people.actors import BUYER, Actor
from cravik.people.models import Business, User
from cravik.people.services import make_business
from cravik.setup.defaults import Subject
from cravik.setup.ways import CARD, NOTHING
from cravik.upkeep.references import READABLE

SEED = 1907
#: How many of the newest orders get their documents and letters; the figures need none, and they take time.
LETTERS_FOR = 100


@dataclass(frozen=True)
class Sale:
    """A visit that ended in a payment."""

    link: Link
    visit: Visit
    paid_at: datetime
    name: str
    email: str


@dataclass(frozen=True)
class _Bought:
    """What of the ``offer`` that held then was taken, and with which of its codes."""

    version: ShownVersion
    offer: Offer
    taken: tuple[BasketLine, ...]
    code: LinkCode | None


@transaction.atomic
def load_sample(now: datetime, scale: int = 1) -> Business:
    """Make the business, its links, and ``scale`` times a year of visits and orders."""
    chance = random.Random(SEED)
    business = Business(**catalogue.BUSINESS)
    make_business(
        User(email=catalogue.SELLER_EMAIL, name=catalogue.SELLER_NAME, is_superuser=True),
        catalogue.SELLER_PASSWORD,
        business,
        now - timedelta(days=366),
    )
    decide_all(business, now - timedelta(days=366))
    items = load_items(business, now)
    sales: list[Sale] = []
    for sample in catalogue.LINKS:
        link = _make_link(business, sample, items, now)
        if sample.state != "draft":
            crowd = crowd_of(link, sample, now, chance, scale)
            crowd.write(chance)
            sales += _sales_of(crowd.visits, link, chance)
    sales.sort(key=lambda sale: sale.paid_at)
    orders = _make_orders(business, sales, bought_at(now), chance)
    begin_documents(business, orders[-LETTERS_FOR:])
    newest = Order.objects.filter(id__in=[order.pk for order in orders[-LETTERS_FOR:]])
    related = ("business", "checkout__agreed_to__terms", "link")
    for order in newest.select_related(*related).prefetch_related("downloads__file", *PARTS).order_by("id"):
        issue_for_order(order, order.made_at)
        queue_letters(business, letters_about(order), order.made_at)
        deliver_waiting(order.made_at + timedelta(seconds=2))
    send_what_was_ordered(business, orders, now, chance)
    end_documents(orders, now)
    give_back(business, orders, now)
    run_over_time(business, [order.made_at for order in orders], now, chance)
    look_after(business, now)
    hand_out(business, now)
    sum_days(business, now)
    return business


def _make_link(business: Business, sample: catalogue.SampleLink, items: dict[str, Item], now: datetime) -> Link:
    first, last = sample.up
    made_at = now - timedelta(days=first, minutes=5) if sample.state != "draft" else now - timedelta(days=2)
    price = Money(sample.minor, sample.currency)
    if sample.copy_of:
        link = _copied(business, sample, made_at)
    elif sample.offer:
        link = import_link(
            business, sample.offer.document(sample.title, sample.currency, items), made_at, by=seller_of(business)
        )
    elif item := items.get(sample.item):
        link = make_link_of_item(business, item, price, made_at, by=seller_of(business))
    else:
        link = drafts.make_link(business, sample.title, price, made_at, sample.words, by=seller_of(business))
    for name in sample.spots:
        make_spot(link, name, made_at, by=seller_of(business))
    if sample.look:
        link = change_part(link, Subject.LOOK, sample.look, link.revision, made_at, by=seller_of(business)).link
    for line in link.draft["offer"]["lines"] if sample.exempt else ():
        link = change_line(link, line["key"], "withdrawal", sample.exempt, made_at)
    if sample.state == "draft":
        return link
    link = lifecycle.publish(link, made_at + timedelta(minutes=5), by=seller_of(business))
    if sample.later:
        at = now - timedelta(days=sample.later.days_ago)
        link = repriced(link, sample.later.minor, at) if sample.later.minor else reshape(link, at)
        link = lifecycle.publish(link, at, by=seller_of(business))
    if sample.state == "paused":
        return lifecycle.pause(link, now - timedelta(days=last), by=seller_of(business))
    if sample.state == "ended":
        return lifecycle.end(link, now - timedelta(days=last), by=seller_of(business))
    return link


def _copied(business: Business, sample: catalogue.SampleLink, made_at: datetime) -> Link:
    original = Link.objects.get(business=business, name__startswith=sample.copy_of)
    copy = copy_link(original, made_at, by=seller_of(business))
    addresses.rename(copy, sample.title, made_at, by=seller_of(business))
    return change_part(
        Link.objects.get(id=copy.pk), "words", sample.words, copy.revision, made_at, by=seller_of(business)
    ).link


def _sales_of(visits: list[Visit], link: Link, chance: random.Random) -> list[Sale]:
    """Those of the visits that were paid, each by somebody with a name."""
    return [Sale(link, visit, visit.paid_at, *_somebody(chance)) for visit in visits if visit.paid_at]


def _somebody(chance: random.Random) -> tuple[str, str]:
    name = f"{chance.choice(catalogue.FIRST_NAMES)} {chance.choice(catalogue.LAST_NAMES)}"
    return name, f"{name.lower().replace(' ', '.')}@{chance.choice(catalogue.MAIL_PLACES)}"


def _make_orders(
    business: Business, sales: list[Sale], kept_free: Sequence[datetime], chance: random.Random
) -> list[Order]:
    """The orders of the sales. The numbers of those that are made at ``kept_free`` by others are left out."""
    contents = {pk: shown_version(pk) for pk in {sale.visit.version_id for sale in sales} if pk}
    links = {sale.link.pk for sale in sales}
    codes = {(row.link_id, row.normal): row for row in LinkCode.objects.filter(link_id__in=links)}
    made: list[tuple[Sale, Checkout, CheckoutLine]] = []
    came_too_late = []
    count, used, pieces = Counter[int](), Counter[int](), defaultdict[int, Counter[str]](Counter)
    for sale in sales:
        assert sale.visit.version_id is not None
        version, sold = contents[sale.visit.version_id], pieces[sale.link.pk]
        offer = version.offer_at(sale.paid_at, Counted(count[sale.link.pk], sold))
        left = {key: most - sold[key] for key, most in version.content.limits.pieces.items()}
        if not (taken := as_far_as_left(picked(offer, chance), left)):
            came_too_late.append(sale.visit)
            continue
        typed = next(iter(version.codes), "") if chance.random() < 0.2 else ""
        code = codes.get((sale.link.pk, typed))
        if code and code.most is not None and used[code.pk] >= code.most:
            code = None
        if code:
            used[code.pk] += 1
            sale.visit.code_id = code.pk
        checkout, line = _checkout(business, sale, _Bought(version, offer, taken, code), chance)
        made.append((sale, checkout, line))
        count[sale.link.pk] += 1
        for bought in line.quote_document["lines"]:
            sold[bought["key"]] += bought["quantity"]
    for visit in came_too_late:
        visit.rung, visit.paid_at = Rung.TRIED, None
    Visit.objects.bulk_update(came_too_late, ["rung", "paid_at"], batch_size=500)
    Visit.objects.bulk_update((sale.visit for sale, _, _ in made if sale.visit.code_id), ["code_id"], batch_size=500)
    Checkout.objects.bulk_create((checkout for _, checkout, _ in made), batch_size=1000)
    lines = CheckoutLine.objects.bulk_create((line for _, _, line in made), batch_size=1000)
    paid = [line for line in lines if line.checkout.total_minor]  # of what is free nothing is due
    dues = Due.objects.bulk_create((_due(line) for line in paid), batch_size=1000)
    charges = CounterCharge.objects.bulk_create(
        (_charge(business, line.checkout, chance) for line in paid), batch_size=1000
    )
    CounterEntry.objects.bulk_create(
        (CounterEntry(charge=charge, what="approved", at=charge.decided_at) for charge in charges), batch_size=2000
    )
    attempts = Attempt.objects.bulk_create(
        (_attempt(due, charge) for due, charge in zip(dues, charges, strict=True)), batch_size=1000
    )
    Allocation.objects.bulk_create(
        (
            Allocation(attempt=attempt, due=due, amount_minor=due.amount_minor, undecided=False)
            for attempt, due in zip(attempts, dues, strict=True)
        ),
        batch_size=1000,
    )
    Movement.objects.bulk_create(
        (
            charge_moved(attempt, line.checkout, line, attempt.begun_at)
            for attempt, line in zip(attempts, paid, strict=True)
        ),
        batch_size=1000,
    )
    OrderBook.objects.create(business=business, last_number=FIRST_NUMBER - 1 + len(made))
    for link_id, number in count.items():
        LinkTally.objects.filter(link_id=link_id).update(paid=number)
    LinePieces.objects.bulk_create(
        [
            LinePieces(link_id=link_id, line=line, paid=number)
            for link_id, of_link in pieces.items()
            for line, number in of_link.items()
        ],
        update_conflicts=True,
        unique_fields=["link", "line"],
        update_fields=["paid"],
    )
    for code_id, uses in used.items():
        LinkCode.objects.filter(id=code_id).update(paid=uses)
    buyers = _buyers_of(business, made)
    orders = Order.objects.bulk_create(
        (
            _order(number + bisect(kept_free, sale.paid_at), sale, line, buyers[checkout.buyer_key])
            for number, (sale, checkout, line) in enumerate(made, FIRST_NUMBER)
        ),
        batch_size=1000,
    )
    write_all(each for order, due in zip(orders, _dues_of(lines, dues), strict=True) for each in _events_of(order, due))
    return orders


def _dues_of(lines: Sequence[CheckoutLine], dues: Sequence[Due]) -> Iterator[Due | None]:
    """The due of each of the lines' checkouts, where something was due."""
    by_checkout = {due.checkout_id: due for due in dues}
    return (by_checkout.get(line.checkout_id) for line in lines)


def _events_of(order: Order, due: Due | None) -> Iterator[tuple[Happening, About, datetime, Actor]]:
    yield OrderMade(order.number), about(order), order.made_at, BUYER
    if due:
        yield DuePaid(due.amount_minor, due.currency), about(order), order.made_at, BUYER


def _checkout(business: Business, sale: Sale, bought: _Bought, chance: random.Random) -> tuple[Checkout, CheckoutLine]:
    version, offer = bought.version, bought.offer
    where = _where(offer, business, chance)
    place = Place(where["country"]) if where else None
    on = sale.paid_at.astimezone(ZoneInfo(business.time_zone)).date()
    code = version.codes[bought.code.normal].code if bought.code else None
    basket = Basket(on, bought.taken, code=code, destination=place)
    quoted = quote(version.offer_with(basket.code, offer), basket)
    effective = sale.link.effective
    assert effective is not None and version.version_id is not None
    checkout = Checkout(
        business=business,
        reference="".join(chance.choices(READABLE, k=12)),
        rehearsal=False,
        total_minor=quoted.total.minor,
        currency=quoted.currency,
        buyer_name=sale.name,
        buyer_email=sale.email,
        buyer_key=buyer_key(sale.email),
        where=where,
        typed={"at_once": "yes"} if "at_once" in version.content.no_withdrawal.values() else {},
        agreed_to_id=effective["conditions"]["version"],
        visit_id=sale.visit.pk,
        visitor=sale.visit.visitor,
        made_at=sale.paid_at,
    )
    line = CheckoutLine(
        checkout=checkout,
        link=sale.link,
        version_id=version.version_id,
        spot_id=sale.visit.spot_id,
        code=bought.code,
        title=offer.title,
        options=options_words(quoted),
        basket_document=write_basket(basket),
        quote_document=write_kept_quote(quoted),
    )
    return checkout, line


def _due(line: CheckoutLine) -> Due:
    checkout = line.checkout
    return Due(
        checkout=checkout,
        position=0,
        on=checkout.made_at.date(),
        amount_minor=checkout.total_minor,
        currency=checkout.currency,
        paid_minor=checkout.total_minor,
        state=Due.State.PAID,
        paid_at=checkout.made_at,
    )


def _where(offer: Offer, business: Business, chance: random.Random) -> dict[str, str]:
    """An address for what is sent; most of it stays at home."""
    asked = asked_of(offer)
    if not asked.address:
        return {}
    country = business.country if chance.random() < 0.8 else chance.choice(asked.countries or (business.country,))
    street = f"{chance.randint(1, 90)} {chance.choice(catalogue.STREETS)}"
    return {"street": street, "town": chance.choice(catalogue.TOWNS), "country": country}


def _charge(business: Business, checkout: Checkout, chance: random.Random) -> CounterCharge:
    return CounterCharge(
        key=f"{chance.getrandbits(256):064x}",
        reference=in_groups("".join(chance.choices(READABLE, k=16))),
        outcome=CounterCharge.Outcome.APPROVED,
        account=f"business-{business.pk}",
        amount_minor=checkout.total_minor,
        currency=checkout.currency,
        card_ending="0019",
        statement_text=business.statement_text,
        decided_at=checkout.made_at,
    )


def _attempt(due: Due, charge: CounterCharge) -> Attempt:
    return Attempt(
        checkout=due.checkout,
        way=CARD,
        by=BUYER.kind,
        key=charge.key,
        state=Attempt.State.APPROVED,
        gateway_reference=charge.reference,
        details={ENDING: charge.card_ending},
        amount_minor=charge.amount_minor,
        currency=charge.currency,
        begun_at=charge.decided_at,
        answered_at=charge.decided_at,
    )


def _buyers_of(business: Business, made: Sequence[tuple[Sale, Checkout, CheckoutLine]]) -> dict[str, Buyer]:
    """The buyers by their keys, each made with the first order and called as in the last."""
    found: dict[str, Buyer] = {}
    for sale, checkout, _ in made:
        buyer = found.setdefault(checkout.buyer_key, Buyer(business=business, made_at=sale.paid_at))
        buyer.key, buyer.email, buyer.name = checkout.buyer_key, checkout.buyer_email, checkout.buyer_name
    Buyer.objects.bulk_create(found.values(), batch_size=1000)
    return found


def _order(number: int, sale: Sale, line: CheckoutLine, buyer: Buyer) -> Order:
    order = new_order(line.checkout, line, number, sale.paid_at, CARD if line.checkout.total_minor else NOTHING)
    order.letters_due, order.buyer, order.taken_minor = False, buyer, line.checkout.total_minor
    return order
