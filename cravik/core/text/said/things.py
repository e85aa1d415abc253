"""What is sold: names and prices put together, and what further names with prices are: levels, extras, things besides.

Where that is not told, it is a question: nothing that is sold comes to be by a comma alone.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from cravik.core.pricing.offer import Quantity
from cravik.core.pricing.price import PacksPrice
from cravik.core.pricing.schedule import ONCE, InstalmentsPlan, SimplePlan
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import MANY, Draft, Thing
from cravik.core.text.said.names import (
    Item,
    is_level,
    is_people,
    is_telling,
    items,
    name_of,
)
from cravik.core.text.said.pairs import Pair, Paired, paired_in
from cravik.core.text.said.picking import Picking
from cravik.core.text.said.pieces import Piece
from cravik.core.text.said.subjects.open_prices import is_open, levels_of_amounts, open_thing

_PICKED = frozenset(("/", "|", "or"))


def build_things(draft: Draft, way: Sequence[Piece]) -> None:
    """The draft's things and title; what cannot be told is asked, what is left over are strays."""
    _Things(draft, paired_in(draft, items(draft.line, way))).build()


class _Things(Picking):
    def __init__(self, draft: Draft, paired: Paired) -> None:
        super().__init__(draft)
        self.paired = paired

    def build(self) -> None:
        pairs = self.paired.pairs
        if is_open(self.draft):
            self._open()
        elif not pairs:
            self._without_sum()
        else:
            self._priced(pairs)
        self._strays()

    def _strays(self) -> None:
        self.draft.strays += [(item.start, item.end) for item in self.paired.strays]

    def _open(self) -> None:
        """The first name that has no sum of its own; what has one is besides, if it is said to be."""
        plain = [pair for pair in self.paired.pairs if not pair.is_extra]
        free = sorted([*self.paired.pending, *self.paired.strays], key=lambda item: item.start)
        names = self._together(free)
        self.paired.strays = [item for item in free if item not in names]
        if not names and plain:
            names = plain[0].names
        name, span = self.name_over(names)
        self.draft.things.append(open_thing(self.draft, name, span))
        for pair in plain:
            self.draft.refuse(pair.piece)
        for pair in self.paired.pairs:
            if pair.is_extra and pair.names and pair.start < span[0]:
                self.draft.refuse(pair.piece)  # what it is an extra of comes after it
            elif pair.is_extra:
                self._extra(pair)

    def _together(self, names: list[Item]) -> list[Item]:
        """The first name, with those that only a comma or a dash parts from it."""
        found = names[:1]
        for item in names[1:]:
            between = [self.line.word(place) for place in range(found[-1].end, item.start)]
            if not set(between) <= {",", "—", "(", ")"}:
                break
            found.append(item)
        return found

    def _without_sum(self) -> None:
        """A thing whose price a step or a bundle tells, or none does."""
        pending = self.paired.pending
        steps = self.draft.pieces_of("step", "bundle", "tiers")
        before = [item for item in pending if not steps or item.start < steps[0].start]
        names = self._together(before or pending)
        self.paired.strays += [item for item in pending if item not in names]
        name, span = self.name_over(names)
        thing = Thing(name, span[0], span)
        bundles = self.draft.pieces_of("bundle")
        if bundles and not self.draft.pieces_of("step"):
            bundle = bundles[0].value
            thing.other = PacksPrice(bundle.count, bundle.amount)
            thing.quantity = Quantity(bundle.count, 1, None)
            bundles[0].words = f"{format_money(bundle.amount)} a pack of {bundle.count:,}"
            bundles[0].role = "pack"
            self.ask_which_is_the_price(bundles[0], bundle)
        for piece in self.draft.pieces_of("one_of", "tiers"):
            if thing.other is not None:
                self.draft.refuse(piece)
            elif piece.role == "one_of":
                thing.other = levels_of_amounts(piece.value)
                piece.words = "the buyer picks one of these amounts"
            else:
                thing.other, thing.quantity = piece.value, MANY
                piece.words = "less for more of them, each unit at the price of its step"
        if name or steps:
            self.draft.things.append(thing)

    # things with sums

    def _priced(self, pairs: list[Pair]) -> None:
        for pair in pairs[1:]:
            first = pair.names[0].start if pair.names else 0
            if self.line.word(first) == "extra" and self.line.word(first - 1) in (",", ";", "and", "+", "(", "—"):
                pair.optional = True
        main = next((pair for pair in pairs if not pair.is_extra and not pair.price.regular), None)
        if main is None:
            main = pairs[0]
            self.draft.only_extra = main.is_extra
            main.optional = False
            if main.price.once or main.price.extra:
                main.piece.value = replace(main.price, once=False, extra=False)
        self._take_name_for(main, pairs)
        if main is not pairs[0] and pairs[0].price.extra:
            self.draft.refuse(pairs[0].piece)  # what it is an extra of comes after it
        if any(pair.label for pair in pairs):
            self._labelled(pairs)
            return
        plain = [pair for pair in pairs if not pair.is_extra]
        title = self._title(plain)
        if self.paired.title:
            title = self.name_over(self.paired.title)[0]
        named = [pair for pair in plain if pair.names and not pair.price.regular]
        if len(plain) > 1 and len(named) == 1 and all(pair.price.pack for pair in plain):
            packs = [f"Pack of {pair.price.pack:,}" for pair in plain]
            self.levels(*self.name_over(named[0].names), packs, plain)
            plain = plain[:1]
        elif len(named) > 1:
            self._several(named, title)
        else:
            self._single(main)
        others = [pair for pair in plain if pair is not main and (pair.price.regular or not pair.names)]
        for pair in others:
            self._second_price(pair, main, is_only=len(others) == 1)
        for pair in pairs:
            if pair.is_extra and pair is not main:
                self._extra(pair)

    def _take_name_for(self, main: Pair, pairs: list[Pair]) -> None:
        """A price that stands first may have its name further on: ``early bird 45, regular 60 - glaze day``."""
        later = [item for item in self.paired.strays if item.kind == "name"]
        if not main.names and later and not any(pair.names for pair in pairs if not pair.is_extra):
            main.names = later[:1]
            self.paired.strays.remove(later[0])

    def _title(self, plain: Sequence[Pair]) -> str:
        """What stands before a colon or a dash and the first of several names: the title of them all."""
        first = next((pair for pair in plain if pair.names), None)
        several = len([pair for pair in plain if pair.names]) > 1
        if first is None or len(first.names) < 2 or not several:
            return ""
        for sign in (":", "—", ","):
            for number in range(len(first.names) - 1, 0, -1):
                between = [
                    self.line.word(place) for place in range(first.names[number - 1].end, first.names[number].start)
                ]
                if sign in between and (sign != "," or self._all_levels(first.names[number:], plain)):
                    title, _ = self.name_over(first.names[:number])
                    first.names = first.names[number:]
                    return title
        return ""

    def _all_levels(self, names: Sequence[Item], plain: Sequence[Pair]) -> bool:
        return all(
            is_level(self.line, self.name_over(each)[0])
            for each in (names, *(pair.names for pair in plain[1:] if pair.names))
        )

    def _single(self, main: Pair) -> None:
        name, span = self.name_over(main.names)
        price = main.price
        quantity = None
        counted = self._counted_name(main)
        if counted is not None:
            name, quantity = counted
        if not main.names:
            name = price.name or price.noun
        if self.paired.title:
            title = self.name_over(self.paired.title)[0]
            if any(pair.is_extra for pair in self.paired.pairs):
                self.draft.title = title
            else:
                name = f"{title}: {name}"
        thing = Thing(name, main.start, span, price, quantity=quantity)
        self.draft.things.append(thing)
        self.take_plan(price)
        self._tell(main)

    def _counted_name(self, pair: Pair) -> tuple[str, Quantity] | None:
        """``6 hrs design @ 70``: so many at a price each; else it may be how many there are."""
        item = pair.names[-1] if pair.names else None
        if item is None or pair.price_first or not (self.is_rate(item, pair) or pair.price.each):
            return None
        token = self.line.tokens[item.start]
        if self.is_rate(item, pair) and not token.number:
            self.ask_about_rate(item, pair)
        count = token.number.whole if token.number and token.word in ("#",) else None
        if not count or count < 2 or item.end - item.start < 2:
            return None
        start = item.start + 1
        time_word = self.line.word(start) in self.line.words.classes["measure"]
        start += time_word and item.end - start > 1
        name = name_of(self.line, start, item.end)
        if not self.draft.title or not self._is_bill(self.draft.title):
            each, told = f"{name} {pair.price.amount.major} each", format_money(pair.price.amount)
            choices = {
                f"Always {count:,}, at {told} each": f"{each}, always {count}",
                f"There are {count:,}, at {told} each": f"{each}, {count} pieces",
            }
            question = f"Is it always {count:,}, or are there {count:,} of them?"
            self.draft.ask(item.start, pair.end, question, choices)
        pair.piece.value = replace(pair.price, each=True)
        return name, Quantity(count, count, count)

    def _is_bill(self, title: str) -> bool:
        return any(word.casefold() in self.line.words.together for word in title.replace(":", " ").split())

    def _tell(self, pair: Pair) -> None:
        price = pair.price
        words = format_money(price.amount) if price.amount.minor else "free"
        words += " each" if price.each else f" a pack of {price.pack:,}" if price.pack else ""
        if price.was:
            words += f", was {format_money(price.was)}"
        pair.piece.words = words

    def _labelled(self, pairs: list[Pair]) -> None:
        """``25 (Breeze), 60 (Gale) or 150 (Storm)``."""
        if len(pairs) < 2 or not all(pair.label for pair in pairs) or any(pair.names for pair in pairs[1:]):
            for pair in pairs:
                if pair.label:
                    self.paired.strays.append(pair.label)
                    pair.label = None
            self._priced(pairs)
            return
        name, span = self.name_over(pairs[0].names)
        names = [self.name_over([pair.label])[0] for pair in pairs if pair.label]
        self.levels(name, span, names, pairs)

    def _several(self, named: list[Pair], title: str) -> None:
        """What several names with prices are."""
        names = [self.name_over(pair.names)[0] for pair in named]
        joins = [pair.joins - {"piece", ",", "for", "and", ":", "—", "at", "the", "a"} for pair in named[1:]]
        people = all(is_people(self.line, name) or name.casefold() in self.line.words.parties for name in names)
        people = people and any(is_people(self.line, name) for name in names)
        if self.draft.has("any_of"):
            self._each_if_wanted(named, title, many=False)
        elif people:
            self._each_if_wanted(named, title, many=True)
        elif all(each & _PICKED for each in joins) and not self.is_date(named):
            self.picked(named, title, names)
        elif self.draft.has("together"):
            self._all_of_them(named, title)
            for piece in self.draft.pieces_of("together"):
                piece.words = "all of it together"
        elif self.are_levels(title, names):
            self.picked(named, title, names)
        elif many := self.levels_before(title, names):
            self.picked(named[:many], title, names[:many])
            self.ask_what_else(named[:many], named[many:], title)
        elif title and self._is_bill(title) and not named[0].price_first:
            self.draft.title = title
            self._all_of_them(named, title)
        else:
            self.ask_what_they_are(named, title, names)
            self._all_of_them(named[:1], "")
            if title:
                self.draft.things[-1].name = f"{title}: {names[0]}"

    def _each_if_wanted(self, named: Sequence[Pair], title: str, *, many: bool) -> None:
        """A buyer takes some of any of them, and at least one in all."""
        self.draft.any_of = True
        self.draft.title = title
        if len({pair.price.plan for pair in named}) > 1:
            self.draft.refuse(named[-1].piece, "All that a link sells is paid at the same times.")
        for pair in named:
            name, span = self.name_over(pair.names)
            quantity = MANY if many or pair.price.each else None
            self.draft.things.append(Thing(name, pair.start, span, pair.price, quantity=quantity, optional=True))
            self.take_plan(pair.price)
            self._tell(pair)

    def _all_of_them(self, named: Sequence[Pair], title: str) -> None:
        self.draft.title = title
        plans = {pair.price.plan for pair in named}
        for pair in named:
            if len(plans) > 1:
                self.draft.refuse(pair.piece, "All that a link sells is paid at the same times.")
            name, span = self.name_over(pair.names)
            counted = self._counted_name(pair)
            quantity = None
            if counted is not None:
                name, quantity = counted
            self.draft.things.append(Thing(name, pair.start, span, pair.price, quantity=quantity))
            self.take_plan(pair.price)
            self._tell(pair)

    def _extra(self, pair: Pair) -> None:
        """Something besides: if wanted, or charged once where the rest repeats."""
        name, span = self.name_over(pair.names)
        name = name or pair.price.name
        of_grammar = is_telling(self.line, pair.start, pair.start + 1)
        chosen = name.casefold() in self.line.words.colours or set(name.casefold().split()) & set(self.line.words.sizes)
        is_choice = "or" in pair.joins or " or " in name or bool(chosen)
        if (
            not name
            or (is_choice and not pair.optional)
            or (of_grammar and self.line.word(pair.start) not in ("extra", "plus"))
        ):
            self.draft.refuse(pair.piece)
            return
        many = pair.price.each
        thing = Thing(name, pair.start, span, replace(pair.price, each=False), quantity=MANY if many else None)
        thing.once = pair.price.once
        thing.optional, thing.end = pair.optional or not thing.once, pair.end
        self.draft.things.append(thing)
        pair.piece.words = f"{format_money(pair.price.amount)} {'charged once' if thing.once else 'more, if wanted'}"

    def _second_price(self, pair: Pair, main: Pair, *, is_only: bool) -> None:
        """A further price of the same thing: paid at other times it is the buyer's choice, else it is asked."""
        price = pair.price
        is_choice = (price.plan is not None and price.plan != main.price.plan) or (
            price.plan is None and main.price.plan is not None and "or" in pair.joins
        )
        if isinstance(price.plan, InstalmentsPlan) and price.amount == main.price.amount and "or" not in pair.joins:
            self.draft.plan = price.plan  # the parts come to the price
            pair.piece.words = f"in {price.plan.payments} parts"
        elif is_choice and "then" not in pair.joins and ("or" in pair.joins or "/" in pair.joins or "," in pair.joins):
            plan: SimplePlan = price.plan or ONCE
            same = isinstance(plan, InstalmentsPlan) and price.amount == main.price.amount
            self.draft.others.append((plan, None if same else price.amount))
            pair.piece.words = f"or {format_money(price.amount)}, paid otherwise"
        elif is_only:
            self.ask_which(pair, main)
        else:
            self.draft.refuse(pair.piece, "Say what each price is for.")
