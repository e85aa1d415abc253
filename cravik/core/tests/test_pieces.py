"""Places and pieces: how many there are of a line, what is left, and what that is called."""

from __future__ import annotations

import unittest
from datetime import UTC, datetime
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from cravik.core.documents.link import read_link, write_link
from cravik.core.errors import InvalidDocument
from cravik.core.link.closing import is_used_up, pieces_left, why_closed
from cravik.core.link.content import LinkContent
from cravik.core.link.counted import Counted
from cravik.core.link.limits import Limits
from cravik.core.link.steps import left_at_prices, offer_at
from cravik.core.tests.test_said import read as said_in
from cravik.core.text.pieces_words import guessed_word
from cravik.core.text.sentence import sentence

NOON = datetime(2026, 12, 1, 12, tzinfo=UTC)


def link_of(*lines: dict[str, Any], steps: Any = (), **limits: Any) -> dict[str, Any]:
    offer = {"format": "cravik.offer/1", "title": "Beach workshop", "currency": "EUR", "lines": list(lines)}
    return {"format": "cravik.link/1", "name": "W", "offer": offer, "limits": limits, "steps": list(steps)}


def line_of(key: str, name: str, amount: str = "45.00", **more: Any) -> dict[str, Any]:
    return {"key": key, "name": name, "price": {"kind": "fixed", "amount": amount}, **more}


MANY = {"quantity": {"max": None}}
SEAT = line_of("seat", "Workshop seat", **MANY)
CHILD = line_of("child", "Child", "20.00", **MANY, optional=True)
ADULT = line_of("adult", "Adult", **MANY, optional=True)


def read(*lines: dict[str, Any], **more: Any) -> LinkContent:
    return read_link(link_of(*lines, **more))


class DocumentTest(unittest.TestCase):
    def test_pieces_are_read_and_written_as_they_stand(self) -> None:
        step = {"line": "seat", "price": {"kind": "fixed", "amount": "60.00"}, "after_pieces": 5}
        limits = {"pieces": {"seat": 12}, "pieces_per_buyer": {"seat": 4}, "counted_as": {"seat": "place"}}
        document = link_of(SEAT, steps=[step], **limits)
        written = write_link(read_link(document))
        self.assertEqual((written["limits"], written["steps"]), (limits, [step]))

    def test_what_cannot_be_is_refused_at_its_path(self) -> None:
        step = {"line": "seat", "price": {"kind": "fixed", "amount": "60.00"}}
        for more, at in (
            ({"pieces": {"seat": 0}}, "limits.pieces.seat"),
            ({"pieces": {"seat": "12"}}, "limits.pieces.seat"),
            ({"pieces": {"seat": 1.5}}, "limits.pieces.seat"),
            ({"pieces": {"stool": 3}}, "limits.pieces.stool"),
            ({"pieces_per_buyer": {"stool": 3}}, "limits.pieces_per_buyer.stool"),
            ({"counted_as": {"stool": "seat"}}, "limits.counted_as.stool"),
            ({"counted_as": {"seat": "chairs"}}, "limits.counted_as.seat"),
            ({"pieces": 12}, "limits.pieces"),
            ({"steps": [step | {"after_pieces": 0}]}, "steps[0].after_pieces"),
            ({"steps": [step | {"after_pieces": 3, "after_orders": 3}]}, "steps[0].after_pieces"),
            ({"steps": [step]}, "steps[0]"),
        ):
            with self.subTest(more=more), self.assertRaises(InvalidDocument) as refused:
                read(SEAT, **more)
            self.assertEqual([fault.at for fault in refused.exception.faults], [at])


class LeftTest(unittest.TestCase):
    def test_a_link_is_used_up_once_no_order_can_be_made(self) -> None:
        pair = line_of("pair", "Pair", quantity={"min": 2, "default": 2, "max": None})
        both = {"adult": 3, "child": 2}
        for lines, pieces, counted, is_up in (
            ([SEAT], {"seat": 12}, {"seat": 11}, False),
            ([SEAT], {"seat": 12}, {"seat": 12}, True),
            ([SEAT], {"seat": 12}, {"seat": 13}, True),
            ([pair], {"pair": 5}, {"pair": 3}, False),
            ([pair], {"pair": 5}, {"pair": 4}, True),  # one is left, and an order takes two
            ([ADULT, CHILD], both, {"adult": 3}, False),
            ([ADULT, CHILD], both, both, True),
            ([ADULT, CHILD], {"adult": 3}, {"adult": 3, "child": 99}, False),  # children may still come
            ([SEAT, CHILD], {"child": 2}, {"child": 2, "seat": 2}, False),  # an extra is gone, and no more
            ([SEAT, CHILD], {"seat": 2}, {"seat": 2}, True),  # every order holds a seat
        ):
            with self.subTest(lines=[line["key"] for line in lines], counted=counted):
                link = read(*lines, pieces=pieces)
                self.assertIs(is_used_up(link, Counted(1, counted)), is_up)
                self.assertEqual(why_closed(link, NOON, Counted(1, counted)), "count" if is_up else None)

    @given(st.integers(1, 60), st.integers(0, 90))
    def test_what_is_left_is_never_below_nothing(self, pieces: int, counted: int) -> None:
        link = read(SEAT, pieces={"seat": pieces})
        left = pieces_left(link, Counted(0, {"seat": counted}))["seat"]
        self.assertEqual(left, max(0, pieces - counted))
        self.assertIs(is_used_up(link, Counted(0, {"seat": counted})), left == 0)

    def test_a_price_that_comes_after_pieces_counts_those_of_its_line_alone(self) -> None:
        steps = [{"line": "adult", "price": {"kind": "fixed", "amount": "60.00"}, "after_pieces": 5}]
        link = read(ADULT, CHILD, steps=steps)
        for counted, price, left in (
            ({"adult": 4, "child": 40}, "45.00", {"adult": 1}),
            ({"adult": 5}, "60.00", {}),
            ({"adult": 7}, "60.00", {}),
        ):
            with self.subTest(counted=counted):
                at = Counted(99, counted)
                line = offer_at(link.offer, link.steps, NOON, at).lines[0]
                self.assertEqual(line.price.amount.major, price)  # type: ignore[union-attr]
                self.assertEqual(left_at_prices(link.steps, NOON, at), left)


class WordsTest(unittest.TestCase):
    def test_the_word_is_that_of_the_noun_a_thing_is_named_by(self) -> None:
        for name, word in (
            ("Workshop seat on the beach", "seat"),
            ("Beach workshop", "place"),
            ("Kite-building class for families", "place"),
            ("Class set", "piece"),
            ("Festival ticket", "ticket"),
            ("Festival tee", "piece"),
            ("Linocut print A3", "edition"),
            ("Prints of the bay", "edition"),
            ("Adult", "place"),
            ("Raku firing day", "place"),
            ("Delta kite 1.2 m", "piece"),
            ("Ticket holder", "piece"),
            ("4711", "piece"),
            ("座席", "piece"),
        ):
            with self.subTest(name=name):
                self.assertEqual(guessed_word(name), word)

    def test_the_sentence_says_what_is_counted(self) -> None:
        step = {"line": "seat", "price": {"kind": "fixed", "amount": "60.00"}, "after_pieces": 5}
        for lines, more, said in (
            ([SEAT], {"pieces": {"seat": 12}}, "paid once, 12 seats."),
            ([SEAT], {"pieces": {"seat": 1}}, "paid once, 1 seat."),
            ([SEAT], {"pieces": {"seat": 12}, "counted_as": {"seat": "place"}}, "paid once, 12 places."),
            ([line_of("p", "Giclée print")], {"pieces": {"p": 25}}, "paid once, edition of 25."),
            ([SEAT], {"orders": 3, "pieces": {"seat": 12}}, "paid once, up to 3 orders, 12 seats."),
            ([SEAT], {"pieces_per_buyer": {"seat": 4}}, "paid once, at most 4 seats a buyer."),
            ([ADULT, CHILD], {"pieces": {"adult": 12, "child": 6}}, "12 places for Adult and 6 places for Child."),
            ([SEAT], {"steps": [step]}, "then €60.00 after 5 seats, paid once."),
        ):
            with self.subTest(said=said):
                link = read(*lines, **more)
                words = "".join(each.text for each in sentence(link.offer, steps=link.steps, limits=link.limits))
                self.assertTrue(words.endswith(said), words)


class SaidTest(unittest.TestCase):
    def test_what_the_sentence_counts_is_read_back(self) -> None:
        both = {"adult": 12, "child": 6}
        for lines, more in (
            ([SEAT], {"pieces": {"seat": 12}}),
            ([SEAT], {"pieces": {"seat": 1200}, "counted_as": {"seat": "ticket"}}),
            ([line_of("p", "Giclée print", **MANY)], {"pieces": {"p": 25}}),
            ([SEAT], {"orders": 3, "pieces": {"seat": 12}, "orders_per_buyer": 2, "pieces_per_buyer": {"seat": 4}}),
            ([ADULT, CHILD], {"pieces": both, "pieces_per_buyer": {"child": 3}}),
        ):
            link = read(*lines, **more)
            words = "".join(each.text for each in sentence(link.offer, limits=link.limits))
            with self.subTest(words):
                said = said_in(words)
                keys = {f"line-{number}": line.key for number, line in enumerate(link.offer.lines, start=1)}
                self.assertEqual((said.missed, said.limits.with_keys(keys)), ((), link.limits))

    def test_how_many_there_are_is_understood_as_people_say_it(self) -> None:
        first = "line-1"
        for text, missed, limits in (
            ("Beach workshop 45, 12 places", (), Limits(orders=12)),  # one an order
            ("Beach workshop 45 each, only 12 places left", (), Limits(pieces={first: 12})),
            ("Giclée print $90, edition of 25", (), Limits(pieces={first: 25})),
            ("Signed paperback 11 each, 40 in stock", (), Limits(pieces={first: 40})),
            ("Gig ticket 15, max 4 per person", (), Limits(pieces_per_buyer={first: 4})),
            ("Adult 20, child 10, 12 places for adult and 8 for child", (), Limits(pieces={first: 12, "line-2": 8})),
            ("Adult 20, child 10, 60 places", ("Adult 20, child",), None),  # of which, nobody can tell
        ):
            with self.subTest(text):
                said = said_in(text)
                self.assertEqual(tuple(doubt.about for doubt in said.doubts) + said.missed, missed)
                if limits is not None:
                    self.assertEqual(said.limits, limits)
        self.assertEqual(said_in("Gig ticket 15, max 4 per person").offer.lines[0].quantity.max, 4)
