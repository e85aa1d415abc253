"""Questions about names and prices: each with what can be meant, as a line that says so."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from cravik.core.english import listed
from cravik.core.pricing.money import Money
from cravik.core.pricing.price import Bundle
from cravik.core.text.money_text import format_money
from cravik.core.text.said.draft import Draft
from cravik.core.text.said.names import Item, is_telling, name_of
from cravik.core.text.said.pairs import Pair
from cravik.core.text.said.pieces import Piece


class Asking:
    """What asks of a line under reading."""

    def __init__(self, draft: Draft) -> None:
        self.draft, self.line = draft, draft.line

    def name_over(self, names: Sequence[Item]) -> tuple[str, tuple[int, int]]:
        """The name over all of the items, with the signs between, and its tokens."""
        if not names:
            return "", (0, 0)
        span = names[0].start, names[-1].end
        return name_of(self.line, *span), span

    # one thing whose price is no sum

    def ask_about_rate(self, item: Item, pair: Pair) -> None:
        """``Labour 4 hrs @ 35``: four at 35 each, or 35 for it all."""
        numbers = [place for place in range(item.start + 1, item.end) if self.line.tokens[place].number]
        count = self.line.tokens[numbers[0]].number if len(numbers) == 1 else None
        if count is None or not count.whole or not self.is_rate(item, pair):
            return
        name, amount = name_of(self.line, item.start, numbers[0]), pair.price.amount
        self.draft.ask(
            item.start,
            pair.end,
            f"{format_money(amount)} each, or for all of it?",
            {
                f"Always {count.whole:,}, at {format_money(amount)} each": (
                    f"{name} {amount.major} each, always {count.whole}"
                ),
                f"{format_money(amount)} for all of it": (
                    f"“{name_of(self.line, item.start, item.end)}” {amount.major}"
                ),
            },
        )

    def ask_what_they_are(self, named: Sequence[Pair], title: str, names: Sequence[str]) -> None:
        """Nothing is charged besides by a comma alone: each further name is asked about."""
        line, others = self.line, named[1:]
        head = title and f"{title}: "
        sums = [pair.price.amount for pair in named]
        first, *further = [self._told(pair) for pair in named]
        choices = {
            f"{listed(list(names[1:]), 'and')}: extra{'s' if len(others) > 1 else ''}, if wanted": head
            + ", optional ".join([first, *further]),
            f"All of it, {format_money(sum(sums[1:], sums[0]))} together": head
            + f"{', '.join([first, *further])} together",
            "The buyer picks one": head + " / ".join([first, *further]),
        }
        if not {",", ";", ":", "—", "and", "+", "plus", "with"} & set().union(*(pair.joins for pair in others)):
            one = f"“{line.text(named[0].start, named[-1].piece.start)}” {sums[-1].major}"
            choices = {f"One thing for {format_money(sums[-1])}": one, **choices}
        kept = ", ".join(further)
        if self._has_unnamed_number(named):
            choices, kept = {}, line.text(named[0].end, others[-1].end).strip(" ,;:—–-")
        elif not all(self._is_clear(pair) for pair in named):
            choices = {}
        choices[f"Only {format_money(sums[0])}: keep this as a note"] = f"{head}{first}, note “{_plain(kept)}”"
        self._ask_about(named, others, title, choices)

    def ask_what_else(self, levels: Sequence[Pair], others: Sequence[Pair], title: str) -> None:
        """What follows the levels of a price: extras, or a note."""
        picked = (f"{title}: " if title else "") + " / ".join(self._told(pair) for pair in levels)
        further = [self._told(pair) for pair in others]
        choices = {
            f"Extra{'s' if len(others) > 1 else ''}, if wanted": ", optional ".join([picked, *further]),
            "One more to pick": " / ".join([picked, *further]),
        }
        if not all(self._is_clear(pair) for pair in others):
            choices = {}
        choices["Keep it as a note"] = f"{picked}, note “{_plain(', '.join(further))}”"
        self._ask_about([*levels, *others], others, title, choices)

    def _ask_about(self, named: Sequence[Pair], others: Sequence[Pair], title: str, choices: Mapping[str, str]) -> None:
        """Ask what the others are; what else the line says, before, between and behind, stays with each answer."""
        line, first, last = self.line, named[0].start, named[-1].end
        before, behind = line.text(0, first), line.text(last, len(line.tokens)) if last < len(line.tokens) else ""
        before = before.partition(title)[0] if title else before
        between = [
            f", {line.text(piece.start, piece.end).strip(' ,')}"
            for piece in self.draft.pieces
            if first <= piece.start and piece.end <= last
            if piece.role not in ("name", "optional")
            if not any(self._tells(pair, piece) for pair in named)
        ]
        behind = behind if behind[:1] in (",", ";", ".", "") else f" {behind}"
        words = line.text(others[0].start, others[-1].end)
        lines = {told: f"{before} {each}{''.join(between)}{behind}" for told, each in choices.items()}
        self.draft.ask_for_line(others[0].start, others[-1].end, f"What is “{words}”?", lines)

    def _tells(self, pair: Pair, piece: Piece) -> bool:
        """Whether the words of the piece stand in what is told of the pair."""
        if pair.price_first and pair.names:
            return piece is pair.piece
        return pair.start <= piece.start and piece.end <= pair.end

    def _has_unnamed_number(self, named: Sequence[Pair]) -> bool:
        """Whether a number between them is in no name, in no price and in no other piece."""
        spans = [(pair.start, pair.end) for pair in named]
        spans += [(piece.start, piece.end) for piece in self.draft.pieces if piece.role != "price"]
        told = {place for span in spans for place in range(*span)}
        numbers = (place for place in range(named[0].start, named[-1].end) if self.line.tokens[place].number)
        return any(place not in told for place in numbers)

    def _told(self, pair: Pair) -> str:
        """The pair as it was said; its name first, which reads in one way."""
        if not pair.price_first or not pair.names:
            return self.line.text(pair.start, pair.end)
        return f"{self.name_over(pair.names)[0]} {self.line.text(pair.piece.start, pair.piece.end)}"

    def _is_clear(self, pair: Pair) -> bool:
        """Whether its name could be one: without words of the grammar at its ends, and without a further number."""
        _, (start, end) = self.name_over(pair.names)
        return not is_telling(self.line, start, end) and not any(
            token.word in ("#", "#.", "¤") for token in self.line.tokens[start:end]
        )

    def ask_which(self, pair: Pair, main: Pair) -> None:
        """Two sums for one name."""
        first, second = main.price.amount, pair.price.amount
        name, _ = self.name_over(main.names)
        numbers = sum(token.number is not None for token in self.line.tokens[main.piece.start : pair.end])
        if first.currency != second.currency or not name or main.price_first or numbers > 2:
            self.draft.refuse(pair.piece, "Say what each price is for.")
            return
        told = self.line.text(main.piece.start, main.piece.end)
        self.draft.ask_for_line(
            main.piece.start,
            pair.end,
            "Which of these is the price?",
            {
                f"“{name} {told}” costs {format_money(second)}": self.line.replaced(
                    main.names[0].start, pair.end, f"“{name} {told}” {second.major}"
                ),
                f"Two prices to pick from: {format_money(first)} and {format_money(second)}": self.line.replaced(
                    main.names[0].start, pair.end, f"{name}: {first.major} (first) or {second.major} (second)"
                ),
            },
        )

    def ask_which_is_the_price(self, piece: Piece, bundle: Bundle) -> None:
        """``48 for 2``: so many for that sum, or that sum for so many."""
        number = self.line.tokens[piece.end - 1].number
        size = number.whole if number and self.line.word(piece.end - 1) == "#" else None
        if size and 2 <= size < bundle.count:
            other = Money.parse(str(bundle.count), bundle.amount.currency)
            many = f"{bundle.count} for {format_money(bundle.amount)}"
            few = f"{format_money(other)} a pack of {size}"
            told = {many: many, f"{format_money(other)} for {size:,}": few}
            self.draft.ask(piece.start, piece.end, "Which of them is the price?", told)

    def is_rate(self, item: Item, pair: Pair) -> bool:
        return any(self.line.word(place) in ("@", "at") for place in range(item.end, pair.piece.start))


def _plain(words: str) -> str:
    """The words without quotes, to be quoted."""
    return words.replace("“", "").replace("”", "")
