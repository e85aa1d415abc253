from __future__ import annotations

import copy
import json
import unittest
from collections.abc import Iterator
from typing import Any

from cravik.core.documents.link import read_link, write_link
from cravik.core.errors import InvalidDocument
from cravik.core.link.content import LinkContent
from cravik.core.tests.test_link_documents import FULL, changed
from cravik.core.tests.test_worked_quotes import CASES
from cravik.core.text.differences import differences

#: What stands for a text or a number that was there, so that most parts can be read with it.
_OTHERS: tuple[Any, ...] = (
    "7.00",
    3,
    "2027-01-31T18:00:00+01:00",
    "2027-01-31",
    "Anders {amount}",
    "DIFFERENT",
    "40",
    None,
)


def _leaves(value: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    parts = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, part in parts:
        yield (*at, key)
        yield from _leaves(part, (*at, key))


def _altered(document: Any, at: tuple[Any, ...], other: Any) -> LinkContent | None:
    """The document with something else at that place, or without it (None); None where it can't be read then."""
    document = copy.deepcopy(document)
    holder = document
    for key in at[:-1]:
        holder = holder[key]
    if other is None:
        del holder[at[-1]]
    else:
        holder[at[-1]] = other
    try:
        return read_link(document)
    except InvalidDocument:
        return None


class DifferencesTest(unittest.TestCase):
    def told(self, before: dict[str, Any], after: dict[str, Any]) -> tuple[str, ...]:
        return differences(read_link(before), read_link(after), zone="Europe/Dublin")

    def test_each_part_is_told_in_its_own_words(self) -> None:
        offer = FULL["offer"]
        line = offer["lines"][0]
        other_line = line | {"key": "tail", "name": "Tail", "price": {"kind": "fixed", "amount": "3"}, "choices": []}
        cases: list[tuple[dict[str, Any], tuple[str, ...]]] = [
            ({"offer": offer | {"lines": [line | {"price": {"kind": "fixed", "amount": "26"}}]}}, ("€24.00 → €26.00",)),
            (
                {"offer": offer | {"lines": [line | {"quantity": {"max": 3}}]}},
                ("how many: always one → up to 3",),
            ),
            ({"offer": offer | {"lines": [line, other_line]}}, ("“Tail” added at €3.00",)),
            (
                {"offer": offer | {"plan": {"kind": "once"}}},
                ("payment: paid €10.00 now and the rest after 30 days → paid once",),
            ),
            (
                {"limits": {"orders": 40}},
                ("limits: until 31 Dec 2026, 17:00 (Europe/Dublin) or 40 orders → up to 40 orders",),
            ),
            ({"asks": FULL["asks"] | {"phone": "required"}}, ("phone: optional → required",)),
            ({"page": FULL["page"] | {"button": "Book"}}, ("button: “Pay {amount}” → “Book”",)),
            (
                {"after": {"message": "Thank you, {buyer}."}},
                ("page after paying removed (was: “https://kites.example/thanks”)",),
            ),
            ({"labels": [], "name": "Another"}, ()),
        ]
        for change, expected in cases:
            with self.subTest(str(change)[:60]):
                self.assertEqual(self.told(FULL, changed(**change)), expected)

    def test_questions_are_told_by_their_labels(self) -> None:
        first, *others = FULL["questions"]
        told = self.told(FULL, changed(questions=[*others, first | {"required": True}]))
        self.assertEqual(told, ("question “Name on the tail” is required now", "the order of the questions"))
        self.assertEqual(self.told(FULL, changed(questions=others)), ("question “Name on the tail” removed",))
        self.assertEqual(self.told(changed(questions=others), FULL)[0], "question “Name on the tail” added")

    def test_whatever_is_altered_is_told_by_something_that_names_it(self) -> None:
        documents = [FULL, *({"format": "cravik.link/1", "name": case["id"], "offer": case["offer"]} for case in CASES)]
        told = 0
        for document in documents[::40]:
            written = json.loads(json.dumps(write_link(read_link(document))))
            before = read_link(written)
            self.assertEqual(differences(before, before), ())
            for at in _leaves(written):
                for other in _OTHERS:
                    after = _altered(written, at, other)
                    if after is None or at in [("name",), ("labels",)] or at[0] == "labels":
                        continue
                    said = differences(before, after)
                    self.assertEqual(bool(said), after != before, (at, other))
                    self.assertNotIn("other details", said, (at, other))
                    told += bool(said)
        self.assertGreater(told, 150)
