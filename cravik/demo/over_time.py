"""What is paid over time in the sample: members of the tail club, and giants in instalments or with a deposit.

Each is bought as the application itself takes it, and lived through day after day by the code that the clock runs.
"""

from __future__ import annotations

import random
from bisect import bisect
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, time, timedelta
from functools import partial
from zoneinfo import ZoneInfo

from django.db.models import Min

from cravik.buyers.keys import buyer_key
from cravik.checkout.models import Checkout, CheckoutLine
from cravik.core.documents.basket import write_basket
from cravik.core.documents.quote import write_kept_quote
from cravik.core.link.running import USUAL_RULES
from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.quote import quote, work_out
from cravik.core.pricing.rows import rows_of
from cravik.core.pricing.tax import Place
from cravik.core.text.schedule_words import plan_picked
from cravik.demo import catalogue
from cravik.links.life.shown_version import shown_version
from cravik.links.models import Link
from cravik.links.places.spots import first_spot
from cravik.mailroom.services import deliver_waiting, queue_letters
from cravik.orders.acts.plan_ended import stop
from cravik.orders.acts.plan_paused import pause
from cravik.orders.clock import day_of
from cravik.orders.invoicing.issuing import issue_and_tell
from cravik.orders.letters import letters_about
from cravik.orders.models import PARTS, Order, OrderBook
from cravik.orders.paying.conclude import conclude
from cravik.orders.paying.take import options_words
from cravik.orders.running.due_now import take_due, tell_of
from cravik.payments.agreements import write_agreement
from cravik.payments.counter.gateway import in_groups
from cravik.payments.counter.models import CounterCard, CounterCharge, CounterKept
from cravik.payments.dues import write_dues
from cravik.payments.gateway import Approved, Card
from cravik.payments.holding import Reservation, reserve_all
from cravik.payments.models import Due
from cravik.payments.services import begin_attempt
from cravik.payments.ways import present_ways
from cravik.payments.ways.base import account_of
from cravik.payments.ways.card import CardMeans
from cravik.people.actors import BUYER
from cravik.people.models import Business
from cravik.upkeep.references import READABLE

#: The first number of the sample's orders.
FIRST_NUMBER = 1001
_CARD = Card("9000000000000019", (9, 2049), "123")


@dataclass(frozen=True)
class Plan:
    """Somebody who bought a link so many days ago; ``fails`` is for how many days their card has been refused, and
    what else they did: ``stops`` or ``pauses``."""

    title: str
    days_ago: int
    plan: str | None = None
    fails: int = 0
    act: str = ""


PLANS = (
    *(Plan("Monthly tail club", days) for days in (143, 94, 41, 4)),
    Plan("Monthly tail club", 118, act="stops"),
    Plan("Monthly tail club", 101, act="pauses"),
    Plan("Monthly tail club", 77, fails=18),
    Plan("Giant kite, commissioned", 101, "parts"),
    Plan("Giant kite, commissioned", 47, "parts"),
    Plan("Giant kite, commissioned", 39, "deposit"),
)


def bought_at(now: datetime) -> list[datetime]:
    """When each of them is bought, the first one first."""
    return sorted(_instant(plan, now) for plan in PLANS)


def _instant(plan: Plan, now: datetime) -> datetime:
    return now - timedelta(days=plan.days_ago, hours=3)


def run_over_time(business: Business, others: Sequence[datetime], now: datetime, chance: random.Random) -> list[Order]:
    """Buy each, the first one first, and live it through until now. Their numbers stand in time among those of the
    ``others``, which left them free."""
    plans = sorted(PLANS, key=lambda each: _instant(each, now))
    book = OrderBook.objects.get(business=business)
    orders = []
    for place, plan in enumerate(plans):
        at = _instant(plan, now)
        number = FIRST_NUMBER + place + bisect(others, at)
        OrderBook.objects.filter(id=book.pk).update(last_number=number - 1)
        orders.append(_bought(business, plan, at, chance))
    OrderBook.objects.filter(id=book.pk).update(last_number=FIRST_NUMBER - 1 + len(others) + len(plans))
    for plan, order in zip(plans, orders, strict=True):
        _lived_through(order, plan, now)
    deliver_waiting(now)
    return orders


def _bought(business: Business, plan: Plan, at: datetime, chance: random.Random) -> Order:
    link = Link.objects.get(business=business, name=plan.title)
    assert link.version_id is not None
    version, version_id = shown_version(link.version_id), link.version_id
    first, last = chance.choice(catalogue.FIRST_NAMES), chance.choice(catalogue.LAST_NAMES)
    email = f"{first.lower()}.{last.lower()}@{chance.choice(catalogue.MAIL_PLACES)}"
    street = f"{chance.randint(1, 90)} {chance.choice(catalogue.STREETS)}"
    where = {"street": street, "town": chance.choice(catalogue.TOWNS), "country": business.country}
    on = at.astimezone(ZoneInfo(business.time_zone)).date()
    taken = tuple(BasketLine(line.key, 1, {}) for line in version.content.offer.lines)
    basket = Basket(on, taken, plan=plan.plan, destination=Place(business.country))
    quoted = quote(version.offer_with(None, version.content.offer), basket)
    checkout = Checkout.objects.create(
        business=business,
        reference="".join(chance.choices(READABLE, k=12)),
        rehearsal=False,
        total_minor=quoted.total.minor,
        currency=quoted.currency,
        buyer_name=f"{first} {last}",
        buyer_email=email,
        buyer_key=buyer_key(email),
        where=where,
        agreed_to_id=version.agreed.version_id if version.agreed else None,
        made_at=at,
    )
    checkout.line = CheckoutLine.objects.create(
        checkout=checkout,
        link=link,
        version_id=version_id,
        spot_id=first_spot(link).pk,
        title=version.content.offer.title,
        options=options_words(quoted),
        basket_document=write_basket(basket),
        quote_document=write_kept_quote(quoted, rows_of(work_out(version.content.offer, basket))),
    )
    due = write_dues(checkout, quoted, on, is_new=True)
    picked = plan_picked(version.content.offer.plan, plan.plan)
    assert picked is not None
    write_agreement(checkout, picked, quoted, on, USUAL_RULES, at)
    pieces = {line.key: line.quantity for line in quoted.lines}
    reserve_all(checkout, Reservation(link.pk, pieces), at + timedelta(minutes=15))
    key = f"{chance.getrandbits(256):064x}"
    attempt, _ = begin_attempt(checkout, {due: due.amount_minor}, CardMeans(_CARD), key, at, by=BUYER)
    charge = CounterCharge.objects.create(
        key=key,
        reference=in_groups("".join(chance.choices(READABLE, k=16))),
        outcome=CounterCharge.Outcome.APPROVED,
        account=account_of(business.pk),
        amount_minor=due.amount_minor,
        currency=due.currency,
        card_ending=_CARD.ending,
        statement_text=business.statement_text,
        keep=True,
        decided_at=at,
    )
    token = f"{chance.getrandbits(128):032x}"
    CounterKept.objects.create(charge=charge, token=token, number=_CARD.number, expiry_month=9, expiry_year=2049)
    conclude(attempt, Approved(charge.reference, token), at)
    related = ("business", "checkout__agreed_to__terms", "link")
    order = Order.objects.select_related(*related).prefetch_related("downloads__file", *PARTS).get(checkout=checkout)
    issue_and_tell(order, at)
    queue_letters(business, letters_about(order), at)
    Order.objects.filter(id=order.pk).update(letters_due=False)
    return order


def _lived_through(order: Order, plan: Plan, now: datetime) -> None:
    """Every day on which something is due or told, until now; who stops or pauses does so a while ago."""
    acted_at = now - timedelta(days=9)
    until = acted_at if plan.act else now
    refused_from = now - timedelta(days=plan.fails)
    refused = CounterCard.objects.get(conduct="decline", reason="insufficient_funds").number
    zone, ways = ZoneInfo(order.business.time_zone), present_ways()
    dues = Due.objects.filter(checkout=order.checkout_id)
    while True:
        coming = dues.aggregate(collect=Min("collect_on"), tell=Min("tell_on"))
        day = min((each for each in coming.values() if each), default=None)
        if day is None or (at := datetime.combine(day, time(9), zone)) > until:
            break
        for told in dues.filter(tell_on__lte=day).values_list("id", flat=True):
            tell_of(order, told, at)
        if plan.fails and at >= refused_from:
            CounterKept.objects.filter(charge__key__in=order.checkout.attempts.values("key")).update(number=refused)
        if take_due(order, day, ways, partial(_same, at)):
            issue_and_tell(order, at)
        elif coming["collect"] == day:
            break  # given up
    today = day_of(order, acted_at)
    if plan.act == "stops":
        stop(order, acted_at, today, by=BUYER, at_once=False, why="Moving inland, away from the wind")
    elif plan.act == "pauses":
        pause(order, acted_at, by=BUYER, resumes_on=today + timedelta(days=60))


def _same(at: datetime) -> datetime:
    """A clock that stands."""
    return at
