"""What a basket of an offer costs, and when it is paid: the only file that knows the order of the steps.

>>> from cravik.core.pricing.offer import simple_offer
>>> quote(simple_offer("Kite repair", Money(2400, "EUR")), Basket(date(2026, 11, 23))).total.major
'24.00'
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time
from itertools import chain, repeat
from typing import NamedTuple

from cravik.core.errors import AmountRefused, BasketRefused, Fault
from cravik.core.pricing.basket import Basket
from cravik.core.pricing.delivery import Zone, zone_for
from cravik.core.pricing.discounts import Code, PercentCode
from cravik.core.pricing.money import MAX_MINOR, Money, total_of
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.payment import Circumstances, Payment, TaxLine, payment_of
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.picks import Pick, Picked, pick
from cravik.core.pricing.price import Portion
from cravik.core.pricing.schedule import (
    LISTED_WITHOUT_END,
    ChoicePlan,
    DepositPlan,
    InstalmentsPlan,
    OncePlan,
    RepeatPlan,
    SimplePlan,
)
from cravik.core.pricing.shares import in_equal_parts
from cravik.core.pricing.tax import Place


class QuotedLine(NamedTuple):
    """One line of the slip. ``amount`` is before the discount, ``total`` is what of it is paid.

    ``unit`` is None where no one price holds for all units; ``options`` are the chosen ones' names.
    """

    key: str
    name: str
    options: tuple[str, ...]
    quantity: int
    unit: Money | None
    amount: Money
    discount: Money
    tax: Money
    total: Money
    #: How the amount comes about where pieces are sold together.
    made_of: tuple[Portion, ...] = ()
    #: The tax by rate.
    taxes: tuple[TaxLine, ...] = ()


class LaterPayment(NamedTuple):
    """A payment that falls due on a later day."""

    on: date
    amount: Money


@dataclass(frozen=True, slots=True)
class Quote:
    """The first full payment line by line, and what is due when.

    ``delivery`` is the charge as the zone has it; ``fee`` and ``net`` (what of the payment the fee leaves) are those
    of the ``total``.
    """

    currency: str
    lines: tuple[QuotedLine, ...]
    subtotal: Money
    discount: Money
    delivery: Money
    tax: Money
    tax_lines: tuple[TaxLine, ...]
    fee_cover: Money
    total: Money
    due_now: Money
    schedule: tuple[LaterPayment, ...]
    fee: Money
    net: Money
    #: What each payment of a plan comes to once its first ones, which have prices of their own, are over.
    lasting: Money | None = None
    #: The code that took the discount off, and by how many per cent, where it says so.
    code: str = ""
    code_percent: Percent | None = None
    #: The tax on delivery by rate.
    delivery_taxes: tuple[TaxLine, ...] = ()

    @property
    def postage(self) -> Money:
        """What of the total is for delivery, without the tax on it."""
        nothing = Money(0, self.currency)
        paid = self.total - self.fee_cover - sum((line.total for line in self.lines), nothing)
        return paid - (self.tax - sum((line.tax for line in self.lines), nothing))

    @property
    def left(self) -> Money:
        """What the seller has of the payment once the fee, the tax owed and the postage are taken off."""
        return self.net - self.tax - self.postage


@dataclass(frozen=True, slots=True)
class Workings:
    """How a quote came about: what was picked, under which circumstances, and the plan that holds."""

    given: Circumstances
    plan: SimplePlan
    payment: Payment
    quote: Quote
    #: The day on which it is bought.
    on: date
    repeated: Repeated | None = None


class Repeated(NamedTuple):
    """The payments of a plan that repeats: what is paid ``now``, ``each`` one after it, and those that come after the
    first ones, where these have prices of their own."""

    now: Payment
    each: Payment
    lasting: Payment | None = None


def quote(offer: Offer, basket: Basket) -> Quote:
    """What the basket costs. Raises ``BasketRefused`` with everything that is wrong with it."""
    return work_out(offer, basket).quote


def work_out(offer: Offer, basket: Basket) -> Workings:
    """The quote with what led to it. Raises ``BasketRefused`` with everything that is wrong."""
    lasting = with_prices_of_plan(offer, basket.plan)
    offer = with_first_prices(lasting, basket.plan)
    picked = pick(offer, basket)
    faults = list(picked.faults)
    code = _accepted_code(offer, basket, picked, faults)
    zone = _serving_zone(offer, basket, picked, faults)
    plan = _chosen_plan(offer, basket, faults)
    if not picked.lines and not picked.any_line_refused:
        faults.append(Fault("nothing_chosen", "lines"))
    if basket.cover_fee and not (offer.fee and offer.fee.buyer_may_cover):
        faults.append(Fault("cover_not_offered", "cover_fee"))
    pay_now = _pay_now(offer, basket, plan, faults)
    _check_window(offer, basket, faults)
    if faults or plan is None:
        raise BasketRefused(*faults)
    given = Circumstances(
        offer=offer,
        code=code,
        zone=zone,
        place=basket.destination or (Place(offer.tax.seller_country) if offer.tax else None),
        is_business_abroad=_is_business_abroad(offer, basket),
        covers_fee=basket.cover_fee,
    )
    full = payment_of(picked.picks, given)
    if full.total.minor > MAX_MINOR:
        most = Money(MAX_MINOR, offer.currency)
        raise BasketRefused(Fault("quantity_above_maximum", "lines", why="sum_above_maximum", most=most))
    if isinstance(plan, DepositPlan) and pay_now is not None:
        _check_pay_now(plan, full.total, pay_now, basket.on)
    due = _due(plan, full, _Picks(picked.picks, lasting, basket), given, basket.on, pay_now)
    return Workings(given, plan, full, _quote_of(offer, full, due, code), basket.on, due.repeated)


def with_prices_of_plan(offer: Offer, key: str | None) -> Offer:
    """The offer with the prices that the plan of that key has for some lines, if it has any."""
    choice = offer.plan.choice(key) if isinstance(offer.plan, ChoicePlan) else None
    if choice is None or not choice.prices:
        return offer
    lines = tuple(replace(line, price=choice.prices.get(line.key, line.price)) for line in offer.lines)
    return replace(offer, lines=lines)


def with_first_prices(offer: Offer, key: str | None) -> Offer:
    """The offer at the prices of the first payments of its plan, or of the plan of that key, if it has any."""
    plan = offer.plan.plan(key or "") if isinstance(offer.plan, ChoicePlan) else offer.plan
    if not isinstance(plan, RepeatPlan) or plan.first is None:
        return offer
    prices = plan.first.prices
    return replace(offer, lines=tuple(replace(line, price=prices.get(line.key, line.price)) for line in offer.lines))


class _Picks(NamedTuple):
    """What was picked at the prices of the first payment, and what the later ones are worked out from."""

    first: Sequence[Pick]
    lasting: Offer
    basket: Basket

    def later(self) -> list[Pick]:
        """What recurs at the prices that last. Raises ``BasketRefused`` where that is more than can be charged."""
        picked = pick(self.lasting, self.basket)
        if picked.faults:
            raise BasketRefused(*picked.faults)
        return [each for each in picked.picks if not each.line.once]


class _Due(NamedTuple):
    """What is due now and later."""

    now: Money
    later: Sequence[LaterPayment] = ()
    lasting: Money | None = None
    repeated: Repeated | None = None


def _due(
    plan: SimplePlan, full: Payment, picks: _Picks, given: Circumstances, start: date, pay_now: Money | None
) -> _Due:
    match plan:
        case OncePlan():
            return _Due(full.total)
        case InstalmentsPlan(every=every, payments=payments):
            first, *others = (Money(part, full.total.currency) for part in in_equal_parts(full.total.minor, payments))
            return _Due(first, _payments(every.dates(start, payments - 1), others))
        case DepositPlan():
            now = plan.deposit_on(full.total, start) if pay_now is None else pay_now
            rest = full.total - now
            return _Due(now, [LaterPayment(plan.rest_day(start), rest)] if rest else [])
        case RepeatPlan():
            return _repeats(plan, full, picks, given, start)


def _repeats(plan: RepeatPlan, full: Payment, picks: _Picks, given: Circumstances, start: date) -> _Due:
    """Lines that are charged once fall to the first payment, or to the start of a trial."""
    recurring = [pick for pick in picks.first if not pick.line.once]
    each = full if len(recurring) == len(picks.first) else payment_of(recurring, given)
    amounts: Iterator[Money] = repeat(each.total)
    later = payment_of(picks.later(), given) if plan.first else None
    lasting = later.total if later else None
    if plan.first and later:
        amounts = chain(repeat(each.total, plan.first.payments), repeat(later.total))
    if plan.trial is None:
        next(amounts)  # which falls to now, with what is charged once
        count = LISTED_WITHOUT_END if plan.payments is None else plan.payments - 1
        payments = _payments_of(plan.every.dates(start, count), amounts)
        return _Due(full.total, payments, lasting, Repeated(full, each, later))
    now = payment_of([pick for pick in picks.first if pick.line.once], given)
    first = plan.trial.after(start, 1)
    count = (LISTED_WITHOUT_END if plan.payments is None else plan.payments) - 1
    payments = _payments_of((first, *plan.every.dates(first, count)), amounts)
    return _Due(now.total, payments, lasting, Repeated(now, each, later))


def _payments_of(days: Iterable[date], amounts: Iterable[Money]) -> list[LaterPayment]:
    """A payment a day, for as long as there are days."""
    return [LaterPayment(on, amount) for on, amount in zip(days, amounts, strict=False)]


def _payments(days: Iterable[date], amounts: Iterable[Money]) -> list[LaterPayment]:
    return [LaterPayment(on, amount) for on, amount in zip(days, amounts, strict=True)]


def _accepted_code(offer: Offer, basket: Basket, picked: Picked, faults: list[Fault]) -> Code | None:
    if basket.code is None:
        return None
    code = offer.code(basket.code)
    if code is None:
        faults.append(Fault("code_unknown", "code", code=basket.code.strip()[:80]))
        return None
    if code.starts_on and basket.on < code.starts_on:
        faults.append(Fault("code_not_started", "code", code=code.code, day=code.starts_on))
    if code.ends_on and basket.on > code.ends_on:
        faults.append(Fault("code_ended", "code", code=code.code, day=code.ends_on))
    if not any(code.counts_for(line.key) for line in picked.lines):
        faults.append(Fault("code_not_eligible", "code", code=code.code))
    elif code.minimum and not picked.any_line_refused:
        eligible = total_of((each.amount for each in picked.picks if code.counts_for(each.line.key)), offer.currency)
        if eligible < code.minimum:
            least = code.minimum
            faults.append(Fault("code_below_minimum", "code", code=code.code, least=least, limit=least.major))
    return code


def _serving_zone(offer: Offer, basket: Basket, picked: Picked, faults: list[Fault]) -> Zone | None:
    """The zone that delivers, or None where nothing is charged for delivery."""
    if offer.delivery is None or not any(line.ships for line in picked.lines):
        return None
    if basket.destination is None:
        faults.append(Fault("destination_missing", "destination"))
        return None
    zone = zone_for(basket.destination.country, offer.delivery.zones)
    if zone is None:
        country = basket.destination.country
        faults.append(Fault("destination_not_served", "destination", country=country[:80]))
    elif zone.most_g is not None and not picked.any_line_refused:
        weight = sum(each.weight_g for each in picked.picks if each.line.ships)
        if weight > zone.most_g:
            faults.append(Fault("parcel_too_heavy", "lines", weight_g=weight, zone=zone.name, limit=zone.most_g))
    return zone


def _chosen_plan(offer: Offer, basket: Basket, faults: list[Fault]) -> SimplePlan | None:
    if not isinstance(offer.plan, ChoicePlan):
        if basket.plan is not None:
            faults.append(Fault("plan_unknown", "plan", why="no_plans"))
        return offer.plan
    if basket.plan is None:
        faults.append(Fault("plan_missing", "plan"))
        return None
    plan = offer.plan.plan(basket.plan)
    if plan is None:
        faults.append(Fault("plan_unknown", "plan", plan=basket.plan[:80]))
    return plan


def _pay_now(offer: Offer, basket: Basket, plan: SimplePlan | None, faults: list[Fault]) -> Money | None:
    """What the buyer wants to pay now; whether it is in range shows with the total."""
    if basket.pay_now is None or plan is None:
        return None
    if not (isinstance(plan, DepositPlan) and plan.buyer_may_pay_more):
        faults.append(Fault("amount_not_wanted", "pay_now", why="pay_now_not_wanted"))
        return None
    try:
        return Money.parse(basket.pay_now, offer.currency)
    except AmountRefused as refused:
        fault = refused.faults[0]
        if fault.code == "amount_too_large":
            return Money(MAX_MINOR + 1, offer.currency)
        faults.append(fault.placed("pay_now"))
        return None


def _check_pay_now(plan: DepositPlan, total: Money, pay_now: Money, start: date) -> None:
    least = plan.deposit_on(total, start)
    if least <= pay_now <= total:
        return
    why, bound = ("pay_now_below_deposit", least) if pay_now < least else ("pay_now_above_total", total)
    raise BasketRefused(Fault("pay_now_out_of_range", "pay_now", why=why, bound=bound, limit=bound.major))


def _check_window(offer: Offer, basket: Basket, faults: list[Fault]) -> None:
    """The window is held against the basket's instant, or else the start of its day in UTC."""
    if offer.window is None:
        return
    at, instant = ("at", basket.at) if basket.at else ("on", datetime.combine(basket.on, time(), UTC))
    if offer.window.opens_at and instant < offer.window.opens_at:
        faults.append(Fault("not_open_yet", at, instant=offer.window.opens_at))
    if offer.window.closes_at and instant >= offer.window.closes_at:
        faults.append(Fault("closed", at, instant=offer.window.closes_at))


def _is_business_abroad(offer: Offer, basket: Basket) -> bool:
    return bool(
        offer.tax
        and basket.tax_number
        and basket.tax_number.strip()
        and basket.destination
        and basket.destination.country != offer.tax.seller_country
    )


def _quote_of(offer: Offer, full: Payment, due: _Due, code: Code | None) -> Quote:
    fee = offer.fee.on(full.total) if offer.fee else Money(0, offer.currency)
    taxes = [taxed.rows(offer.currency) if taxed else () for taxed in full.taxed]
    return Quote(
        currency=offer.currency,
        lines=tuple(
            QuotedLine(
                key=pick.line.key,
                name=pick.line.name,
                options=tuple(option.name for option in pick.options),
                quantity=pick.quantity,
                unit=pick.unit,
                amount=pick.amount,
                discount=discount,
                tax=tax,
                total=total,
                made_of=pick.made_of,
                taxes=of_line,
            )
            for (pick, discount, tax, total), of_line in zip(full.lines, taxes, strict=False)  # delivery comes last
        ),
        subtotal=full.subtotal,
        discount=full.discount,
        delivery=full.delivery,
        tax=full.tax,
        tax_lines=full.tax_lines,
        fee_cover=full.fee_cover,
        total=full.total,
        due_now=due.now,
        schedule=tuple(due.later),
        fee=fee,
        net=full.total - fee,
        lasting=due.lasting,
        code=code.code if code else "",
        code_percent=code.percent if isinstance(code, PercentCode) else None,
        delivery_taxes=taxes[-1] if len(taxes) > len(full.lines) else (),
    )
