"""The offer sentence: the whole offer said in one plain sentence, phrase by phrase.

>>> from cravik.core.pricing.money import Money
>>> from cravik.core.pricing.offer import simple_offer
>>> "".join(phrase.text for phrase in sentence(simple_offer("Kite repair", Money(2400, "EUR"))))
'€24.00 for Kite repair, paid once.'
>>> "".join(phrase.text for phrase in sentence(PartialOffer(lines=(PartialLine(name="Kite repair"),))))
'an amount for Kite repair, paid once.'
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from zoneinfo import ZoneInfo

from cravik.core.english import counted, instant_words, listed
from cravik.core.link.limits import NO_LIMITS, Limits
from cravik.core.link.steps import Step
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import EXACTLY_ONE, Offer, Quantity
from cravik.core.pricing.options import Option, OptionGroup
from cravik.core.pricing.partial_offer import PartialLine, PartialOffer, as_partial
from cravik.core.pricing.price import (
    Break,
    BundlesPrice,
    FixedPrice,
    LevelsPrice,
    OpenPrice,
    PacksPrice,
    Price,
    QuantityPrice,
)
from cravik.core.pricing.schedule import ChoicePlan, simple_plans
from cravik.core.text.limits_words import limits_words
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money
from cravik.core.text.pieces_words import pieces_words, word_of
from cravik.core.text.plan_words import first_words, own_prices_words, plan_words
from cravik.core.text.sentence_whole_order import codes_words, delivery_words, tax_words, window_words

#: So many things are named one by one; more are counted.
NAMED_SINGLY = 4
MAX_NAMED = 10_000


@dataclass(frozen=True, slots=True)
class Phrase:
    """A piece of the sentence. ``about`` is the path of the part of the offer that it speaks of, such as
    ``lines[0].price``, and empty for the words that only join the others. A ``gap`` is not decided yet."""

    text: str
    about: str = ""
    gap: bool = False


def sentence(
    offer: Offer | PartialOffer,
    locale: str = DEFAULT_LOCALE,
    *,
    steps: Sequence[Step] = (),
    limits: Limits = NO_LIMITS,
    zone: str = "UTC",
    named: int = NAMED_SINGLY,
) -> tuple[Phrase, ...]:
    """The phrases in reading order; joined without a space they are the sentence. What is undecided is a gap.

    ``steps`` are the prices that take over later, ``limits`` when and how often it can be bought; their instants are
    told in the time ``zone``. Up to ``named`` levels, breaks and options are named one by one.
    """
    partial = offer if isinstance(offer, PartialOffer) else as_partial(offer)
    return tuple(_Speaker(partial, locale, steps, limits, zone, named).phrases())


def whole_sentence(offer: Offer | PartialOffer, locale: str = DEFAULT_LOCALE) -> str:
    """The sentence with each level, break and option named, however many: ``core.text.parsing`` reads it back."""
    return "".join(phrase.text for phrase in sentence(offer, locale, named=MAX_NAMED))


def price_phrase(price: Price, locale: str = DEFAULT_LOCALE) -> str:
    """A price of several pieces as the sentence says it, such as ``€2.00 each, 3 for €5.00 or 10 for €15.00``."""
    return _Speaker(PartialOffer(), locale).price(price, Quantity(max=None)).rstrip(",")


class _Speaker:
    def __init__(
        self,
        offer: PartialOffer,
        locale: str,
        steps: Sequence[Step] = (),
        limits: Limits = NO_LIMITS,
        zone: str = "UTC",
        named: int = NAMED_SINGLY,
    ) -> None:
        self.offer = offer
        self.locale = locale
        self.steps = steps
        self.limits = limits
        self.zone = zone
        self.named = named

    def phrases(self) -> Iterator[Phrase]:
        offer = self.offer
        if len(offer.lines) > 1:
            yield Phrase(offer.title, "title") if offer.title else Phrase("what it is for", "title", gap=True)
            yield Phrase(": ")
        if offer.is_any_of:
            yield Phrase("any of ", "things")
        yield from self.lines()
        mark = "; " if len(offer.lines) > 1 else ", "
        for words, about in (
            (self.later(), "steps"),
            (delivery_words(offer, self.locale), "delivery"),
            (tax_words(offer), "tax"),
            (f"paid {self.plan()}", "plan"),
            (codes_words(offer), "codes"),
            ("the buyer may cover the fee" if offer.fee and offer.fee.buyer_may_cover else "", "fee"),
            (window_words(offer), "window"),
            (limits_words(self.limits, offer.lines, self.zone), "limits"),
        ):
            if words:
                yield Phrase(mark)
                yield Phrase(words, about)
                mark = ", "
        yield Phrase(".")

    def lines(self) -> Iterator[Phrase]:
        """Line by line, parted by semicolons where a line has commas of its own."""
        lines = [list(self.line(line, f"lines[{number}]")) for number, line in enumerate(self.offer.lines)]
        mark = ";" if any("," in phrase.text for phrases in lines for phrase in phrases) else ","
        for number, phrases in enumerate(lines):
            if number:
                is_last = number == len(lines) - 1
                yield Phrase(f"{mark} and " if is_last and mark == ";" else " and " if is_last else f"{mark} ")
            if self.offer.lines[number].optional and not self.offer.is_any_of:
                yield Phrase("if wanted ", f"lines[{number}].optional")
            yield from phrases

    def line(self, line: PartialLine, at: str) -> Iterator[Phrase]:
        if line.price is None:
            yield Phrase("an amount", f"{at}.price", gap=True)
        else:
            yield Phrase(self.price(line.price, line.quantity), f"{at}.price")
        yield Phrase(" for ")
        yield Phrase(line.name, f"{at}.name") if line.name else Phrase("what it is for", f"{at}.name", gap=True)
        if line.choices:
            yield Phrase(" in ")
            words = [self.choice(choice) for choice in line.choices]
            yield Phrase(" and in ".join(words), f"{at}.choices")
        if bounds := _quantity_words(line.quantity, line.price):
            yield Phrase(", ")
            yield Phrase(bounds, f"{at}.quantity")
        if line.once and self.offer.repeats:
            yield Phrase(", ")
            yield Phrase("charged only once", f"{at}.once")

    def price(self, price: Price, quantity: Quantity) -> str:
        each = "" if quantity.max == 1 else " each"
        match price:
            case FixedPrice(amount=amount, was=was):
                before = f" instead of {self.figures(was)}" if was else ""
                return f"{self.price_figures(amount)}{each}{before}"
            case LevelsPrice(levels=levels) if len(levels) <= self.named:
                return listed([f"{self.figures(level.amount)} ({level.name})" for level in levels], "or") + each
            case LevelsPrice(levels=levels):
                return f"one of {len(levels)} amounts from {self.span([level.amount for level in levels])}{each}"
            case QuantityPrice(method=method, breaks=breaks):
                return self.breaks(method, breaks)
            case PacksPrice(size=size, amount=amount):
                return f"{self.figures(amount)} a pack of {size:,}"
            case BundlesPrice(unit=unit, bundles=bundles) if len(bundles) <= self.named:
                together = [f"{each.count:,} for {self.figures(each.amount)}" for each in bundles]
                return f"{self.figures(unit)} each, {listed(together, 'or')},"
            case BundlesPrice(unit=unit, bundles=bundles):
                return f"{self.figures(unit)} each, less in {len(bundles)} sizes of bundle,"
            case OpenPrice(min=least, max=most):
                bounds = f"{self.figures(least)} or more" if most is None else f"from {self.span([least, most])}"
                return f"what the buyer wants, {bounds}{each},"

    def breaks(self, method: str, breaks: tuple[Break, ...]) -> str:
        if len(breaks) > self.named:
            return f"from {self.span([each.unit for each in breaks])} each, by quantity in {len(breaks)} steps,"
        words = []
        for number, each in enumerate(breaks):
            sums = f"{self.figures(each.unit)} each{self.flat(each)}"
            if method == "all_units":
                words.append(sums if number == 0 else f"{sums} from {each.from_:,} on")
            elif number == len(breaks) - 1:
                words.append(sums if number == 0 else f"{sums} after that")
            else:
                units = breaks[number + 1].from_ - each.from_
                which = "first" if number == 0 else "next"
                words.append(f"{sums} for the {which}{f' {units:,}' if units > 1 else ''}")
        return listed(words, "and") + ("," if len(words) > 1 else "")

    def flat(self, each: Break) -> str:
        return f" plus {self.figures(each.flat)}" if each.flat else ""

    def choice(self, choice: OptionGroup) -> str:
        if len(choice.options) > self.named:
            return f"one of {len(choice.options)} for {choice.name}"
        if len(choice.options) == 1:
            return f"{self.option(choice.options[0])} only"
        return listed([self.option(option) for option in choice.options], "or")

    def option(self, option: Option) -> str:
        if not option.add:
            return option.name
        less = option.add < Money(0, option.add.currency)
        return f"{option.name} ({self.figures(abs(option.add))} {'less' if less else 'more'})"

    def later(self) -> str:
        """The prices that take over, each with when it does."""
        lines = {line.key: line for line in self.offer.lines}
        prices = []
        for step in self.steps:
            line = lines.get(step.line, PartialLine(step.line))
            when = [f"after {counted(step.after_orders, 'order', 'orders')}"] if step.after_orders is not None else []
            when += (
                [f"after {pieces_words(step.after_pieces, word_of(line, self.limits))}"] if step.after_pieces else []
            )
            when += [f"from {instant_words(step.from_.astimezone(ZoneInfo(self.zone)))}"] if step.from_ else []
            of = f" for {line.name or step.line}" if len(lines) > 1 else ""
            prices.append(f"{self.price(step.price, EXACTLY_ONE).rstrip(',')}{of} {' or '.join(when)}")
        return f"then {listed(prices, 'and')}" if prices else ""

    def plan(self) -> str:
        names = {line.key: line.name for line in self.offer.lines}
        own = [choice.prices for choice in self.offer.plan.of] if isinstance(self.offer.plan, ChoicePlan) else [{}]
        words = [
            plan_words(plan, self.locale)
            + (f" at {own_prices_words(prices, names, self.locale)}" if prices else "")
            + (f", {first}" if (first := first_words(plan, names, self.locale)) else "")
            for plan, prices in zip(simple_plans(self.offer.plan), own, strict=True)
        ]
        is_plain = len(words) == 1 and not own[0]
        return words[0] if is_plain else f"as the buyer picks: {'; or '.join(words)}"

    def span(self, amounts: list[Money]) -> str:
        return f"{self.figures(min(amounts))} to {self.figures(max(amounts))}"

    def figures(self, money: Money) -> str:
        return format_money(money, self.locale)

    def price_figures(self, money: Money) -> str:
        return self.figures(money) if money else f"nothing ({self.figures(money)})"


def _quantity_words(bounds: Quantity, price: Price | None) -> str:
    """How many can be bought; of what is always one, nothing, but for prices that speak of many."""
    if bounds == EXACTLY_ONE and isinstance(price, PacksPrice | QuantityPrice | BundlesPrice):
        return "only one"
    if bounds.max is None:
        return "as many as wanted" if bounds.min == 1 else f"{bounds.min:,} or more"
    if bounds.min == bounds.max:
        return "" if bounds.max == 1 else f"always {counted(bounds.max, '', '').strip()}"
    return f"up to {bounds.max:,}" if bounds.min == 1 else f"from {bounds.min:,} to {bounds.max:,}"
