"""Offers and baskets drawn at random, for the properties that hold for all of them."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from hypothesis import strategies as st

from cravik.core.pricing.basket import Basket, BasketLine
from cravik.core.pricing.delivery import (
    ByValue,
    ByWeight,
    Delivery,
    FlatCharge,
    PercentCharge,
    PerItemCharge,
    ValueBand,
    WeightBand,
    Zone,
)
from cravik.core.pricing.discounts import AmountCode, FreeDeliveryCode, PercentCode, UnitPriceCode
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Line, Offer, Quantity
from cravik.core.pricing.options import Option, OptionGroup
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.price import (
    MAX_IN_BUNDLES,
    Break,
    Bundle,
    BundlesPrice,
    FixedPrice,
    Level,
    LevelsPrice,
    OpenPrice,
    PacksPrice,
    QuantityPrice,
)
from cravik.core.pricing.schedule import (
    ChoicePlan,
    DepositPlan,
    Every,
    FirstPayments,
    InstalmentsPlan,
    OncePlan,
    PlanChoice,
    RepeatPlan,
)
from cravik.core.pricing.tax import Place, TaxRate, TaxRules

CURRENCY = "EUR"

money = st.builds(Money, st.integers(0, 100_000), st.just(CURRENCY))
percents = st.builds(Percent, st.integers(0, 1_000_000))
days = st.dates(date(1999, 1, 1), date(2101, 12, 31))
places = st.sampled_from([Place("IE"), Place("FR"), Place("CA", "QC"), Place("CA", "ON")])
every = st.builds(Every, st.integers(1, 3), st.sampled_from(["day", "week", "month", "year"]))
breaks = st.lists(st.tuples(money, st.none() | money), min_size=1, max_size=4).map(
    lambda rows: tuple(Break(1 + 5 * number, unit, flat) for number, (unit, flat) in enumerate(rows))
)
levels = st.lists(money, min_size=2, max_size=4).map(
    lambda amounts: tuple(Level(f"l{number}", f"Level {number}", amount) for number, amount in enumerate(amounts))
)
prices = st.one_of(
    st.builds(FixedPrice, money),
    st.builds(LevelsPrice, levels),
    st.builds(QuantityPrice, st.sampled_from(["all_units", "incremental"]), breaks),
    st.builds(PacksPrice, st.integers(1, 12), money),
    st.builds(
        lambda unit, rows: _bundles(unit, rows),
        st.integers(2, 5_000),
        st.lists(st.integers(1, 99), min_size=1, max_size=4),
    ),
    st.builds(OpenPrice, st.just(Money(0, CURRENCY)), st.none(), start=money),
)
choices = st.lists(st.none() | money, min_size=1, max_size=3).map(
    lambda adds: (
        OptionGroup("Size", tuple(Option(f"s{number}", add, 10 * number) for number, add in enumerate(adds))),
    )
)
charges = st.one_of(
    st.builds(FlatCharge, money),
    st.builds(PerItemCharge, money, money),
    st.builds(ByValue, st.lists(money, min_size=1, max_size=3).map(lambda rows: _value_bands(rows)).map(tuple)),
    st.builds(ByWeight, st.lists(money, min_size=1, max_size=3).map(lambda rows: _weight_bands(rows)).map(tuple)),
    st.builds(PercentCharge, percents),
)
deliveries = st.builds(
    Delivery, st.builds(Zone, st.just("All"), st.just(("*",)), charges, st.none() | money).map(lambda zone: (zone,))
)
rates = st.builds(
    TaxRate,
    st.sampled_from(["IE", "FR", "CA"]),
    st.sampled_from(["VAT", "GST"]),
    percents,
    st.sampled_from([None, "QC"]),
    st.sampled_from([("standard",), ("standard", "reduced"), ("delivery",)]),
    st.booleans(),
)
taxes = st.builds(TaxRules, st.just("IE"), st.lists(rates, max_size=4).map(tuple), st.booleans())
fees = st.builds(
    Fee,
    st.builds(Percent, st.integers(0, 999_999)),
    st.builds(Money, st.integers(0, 500), st.just(CURRENCY)),
    st.just(True),
)
simple_plans = st.one_of(
    st.just(OncePlan()),
    st.builds(RepeatPlan, every, st.none() | st.integers(1, 6), st.sampled_from([0, 14])),
    st.builds(RepeatPlan, every, st.none() | st.integers(1, 6), trial_months=st.sampled_from([1, 3])),
    st.builds(InstalmentsPlan, every, st.integers(1, 7)),
    st.builds(DepositPlan, st.integers(1, 60), percent=percents),
    st.builds(DepositPlan, st.integers(1, 60), amount=money),
    st.builds(DepositPlan, amount=money, rest_on=days),
)
plans = simple_plans | simple_plans.map(lambda plan: ChoicePlan((PlanChoice("picked", plan),)))
codes = st.one_of(
    st.builds(PercentCode, st.just("GUST"), percents),
    st.builds(AmountCode, st.just("GUST"), money),
    st.builds(PercentCode, st.just("GUST"), percents, lines=st.just(("line0",))),
    st.builds(FreeDeliveryCode, st.just("GUST")),
)
any_delivery: st.SearchStrategy[Delivery | None] = st.none() | deliveries
any_tax: st.SearchStrategy[TaxRules | None] = st.none() | taxes


def _bundles(unit: int, percents: list[int]) -> BundlesPrice:
    """Bundles of 2, 5, 8 … pieces, each for so many per cent of what they cost singly, and less than all of it."""
    rows = [(2 + 3 * number, percent) for number, percent in enumerate(percents)]
    sizes = [Bundle(count, Money(count * unit * percent // 100, CURRENCY)) for count, percent in rows]
    return BundlesPrice(Money(unit, CURRENCY), tuple(sizes))


def _value_bands(amounts: list[Money]) -> list[ValueBand]:
    return [ValueBand(Money(5000 * number, CURRENCY), amount) for number, amount in enumerate(amounts)]


def _weight_bands(amounts: list[Money]) -> list[WeightBand]:
    return [WeightBand(500 * number, amount) for number, amount in enumerate(amounts)]


@st.composite
def lines(draw: st.DrawFn, number: int) -> Line:
    price = draw(prices)
    return Line(
        key=f"line{number}",
        name=f"Line {number}",
        price=price,
        quantity=Quantity(draw(st.integers(1, 20)), 1, MAX_IN_BUNDLES if isinstance(price, BundlesPrice) else None),
        choices=draw(choices) if price.takes_adds and draw(st.booleans()) else (),
        ships=draw(st.booleans()),
        weight_g=draw(st.integers(0, 900)),
        tax_category=draw(st.sampled_from(["standard", "reduced"])),
        # The first line stays in every payment of a repeating plan.
        once=number > 0 and draw(st.booleans()),
    )


@st.composite
def offers(
    draw: st.DrawFn,
    delivery: st.SearchStrategy[Delivery | None] = any_delivery,
    tax: st.SearchStrategy[TaxRules | None] = any_tax,
) -> Offer:
    sold = tuple(draw(lines(number)) for number in range(draw(st.integers(1, 4))))
    first = sold[0].price
    code = draw(codes)
    if isinstance(first, FixedPrice) and draw(st.booleans()):
        code = UnitPriceCode("GUST", "line0", draw(money))
    plan = draw(plans)
    recurring = {line.key for line in sold if isinstance(line.price, FixedPrice) and not line.once and not line.choices}
    if isinstance(plan, RepeatPlan) and recurring and plan.payments != 1 and draw(st.booleans()):
        first = {key: FixedPrice(draw(money)) for key in sorted(recurring)}
        plan = replace(plan, first=FirstPayments(draw(st.integers(1, (plan.payments or 9) - 1)), first))
    return Offer(
        title="Kites",
        currency=CURRENCY,
        lines=sold,
        plan=plan,
        codes=(code,),
        delivery=draw(delivery),
        tax=draw(tax),
        fee=draw(st.none() | fees),
    )


@st.composite
def baskets(draw: st.DrawFn, offer: Offer) -> Basket:
    """A basket that the offer allows."""
    return Basket(
        on=draw(days),
        lines=tuple(
            BasketLine(
                key=line.key,
                quantity=draw(st.none() | st.integers(1, 30)),
                options={choice.name: draw(st.sampled_from(choice.options)).name for choice in line.choices},
                level=draw(st.sampled_from(line.price.levels)).key if isinstance(line.price, LevelsPrice) else None,
            )
            for line in offer.lines
        ),
        code=draw(st.sampled_from([None, "GUST", " gust "])),
        destination=draw(places),
        tax_number=draw(st.sampled_from([None, "FR40303265045"])),
        cover_fee=offer.fee is not None and draw(st.booleans()),
        plan="picked" if isinstance(offer.plan, ChoicePlan) else None,
    )


@st.composite
def offers_with_baskets(draw: st.DrawFn) -> tuple[Offer, Basket]:
    offer = draw(offers())
    return offer, draw(baskets(offer))
