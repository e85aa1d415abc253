"""Words are words: every fault, refusal and step has some, and nothing that is decided hangs on them."""

from __future__ import annotations

import ast
import importlib
import json
import pkgutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from types import FunctionType
from typing import Any

import time_machine
from django.test import Client, TestCase

import cravik
from cravik.checkout.parts import LINE_PARTS, ORDER_PARTS
from cravik.core.documents.cases import answer_line
from cravik.core.documents.link_draft import gaps_in
from cravik.core.documents.mends import mend_for
from cravik.core.documents.offer import read_offer
from cravik.core.pricing.advice import advise
from cravik.core.tests.test_mends import CASES
from cravik.core.text.faults import fault_words
from cravik.links.bench.advising import key_of
from cravik.links.models import DraftStep, Link
from tests.bench_form import BenchCase
from tests.factories import NOW
from tests.links import document, line
from tests.paying import open_page, send
from tests.worked import worked_cases

#: What makes a fault, a refusal or a step, and which of its arguments are codes.
_MAKERS = {
    "Fault": (0,),
    "Coded": (0,),
    "Refused": (0,),
    "of": (0,),
    "misfit": (0,),
    "wrong": (0,),
    "_refusal": (0,),
    "_refused": (0,),
}
#: Methods that make one of what they are given after its place.
_METHODS = {"fault": (0,)}


class WordsTest(TestCase):
    def test_everything_that_is_told_has_words(self) -> None:
        """Whatever code the sources name where a fault, a refusal, a mend or a step is made."""
        worded = {code for table in _tables() for code in table}
        for part in (*LINE_PARTS, *ORDER_PARTS):
            worded |= set(part.refusals)
        named = {code: where for file in _sources() for code, where in _codes_in(file)}
        self.assertGreater(len(named), 200)
        self.assertEqual({code: where for code, where in named.items() if code not in worded}, {})

    def test_every_text_is_a_sentence_without_a_gap(self) -> None:
        """Each template finds its fields in what the worked quotes and the advice on offers fill in."""
        for code, offer, _ in CASES:
            for warning in advise(read_offer(offer)):
                words = fault_words(warning)
                self.assertRegex(words, r"\.$", code)
                self.assertNotRegex(words, r"[{}]|None|Money\(", code)

    def test_a_value_is_never_read_as_words(self) -> None:
        """A name with braces in it stands as it is."""
        sold = line(name="{code.__class__} {0} %s", quantity={"default": 1, "min": 1, "max": 2})
        asked = {"format": "cravik.basket/1", "on": "2026-11-23", "lines": [{"key": "kite", "quantity": 3}]}
        (error,) = _answer({"id": 1, "offer": document(sold)["offer"], "basket": asked})["errors"]
        self.assertEqual(error["message"], "The most of “{code.__class__} {0} %s” is 2.")


class MarkerTest(BenchCase):
    """The same is decided where every text of a fault is a marker."""

    def setUp(self) -> None:
        super().setUp()
        self.clock = self.enterContext(time_machine.travel(NOW, tick=False))

    def test_quotes_are_refused_for_the_same(self) -> None:
        cases = [case for case in worked_cases() if "errors" in case["quote"]]
        self.assertGreater(len(cases), 50)
        self._same(lambda: [_refusals_of(case) for case in cases])

    def test_advice_and_gaps_are_the_same(self) -> None:
        def told() -> list[Any]:
            offers = [(offer, read_offer(offer)) for _, offer, _ in CASES]
            advice = [(each.code, each.at, key_of(each)) for _, read in offers for each in advise(read)]
            mends = [mend_for(each, offer, read) for offer, read in offers for each in advise(read)]
            return [advice, [(mend.done, mend.offer) if mend else None for mend in mends], *map(gaps_in, _UNFINISHED)]

        self._same(told)

    def test_the_bench_and_the_buyers_page_answer_the_same(self) -> None:
        self._same(self._journey)

    def _journey(self) -> list[Any]:
        """What is answered and kept on the bench and the buyer's page when things are done wrong, by fields."""
        seen: list[Any] = []
        link = self.link(line(name="Kite", quantity={"default": 1, "min": 1, "max": 5}))
        for act in ("add", "remove:kite", "undo", "mend:0", "one", "drop_question:x", "version:9", "nonsense"):
            answer = self._press(link, act, new_thing="")
            seen.append((act, answer.status_code, sorted(answer.json().get("errors", {}))))
        self.save(link, amount__kite="2")
        self.save(link, amount__kite="1")  # the same part within a moment: one step
        self.save(link, max__kite="2")
        seen.append([(step.done, step.undone) for step in DraftStep.objects.filter(link=link)])
        seen.append(self.client.post(f"/links/{link.pk}/publish/").status_code)
        link.refresh_from_db()
        form = open_page(Client(), link) | {"quantity.kite": "3", "email": "nobody", "page": "x"}
        answer = send(Client(), link, form)
        seen += [answer.status_code, [wrong.at for wrong in answer.context["page"].selection.wrong_fields]]
        return seen

    def _press(self, link: Link, act: str, **typed: str) -> Any:
        link.refresh_from_db()
        sent = {"revision": link.revision, "act": act, **typed}
        return self.client.post(f"/links/{link.pk}/", sent, headers={"accept": "application/json"})

    def _same(self, decided: Callable[[], Any]) -> None:
        plain = decided()
        with _markers():
            marked = decided()
        self.assertEqual(_as_data(marked), _as_data(plain))


_UNFINISHED = (
    {"format": "cravik.link/1", "name": "x", "offer": {"title": "", "currency": "EUR", "lines": [{"key": "a"}]}},
    document(line(price={"kind": "levels", "levels": []}), line("b", price={"kind": "packs"})),
    document(
        line(price={"kind": "fixed", "amount": "x"}), line("b", price={"kind": "quantity", "method": "incremental"})
    ),
)


def _answer(case: dict[str, Any]) -> dict[str, Any]:
    return answer_line(json.dumps(case).encode()).row


def _refusals_of(case: dict[str, Any]) -> list[dict[str, Any]]:
    """What the case is refused for, without the texts."""
    errors = _answer({key: case[key] for key in ("id", "offer", "basket")})["errors"]
    return [{key: value for key, value in error.items() if key != "message"} for error in errors]


def _as_data(decided: Any) -> str:
    return repr(decided)


@contextmanager
def _markers() -> Iterator[None]:
    """Every template of every room is a marker."""
    tables = list(_tables())
    former = [dict(table) for table in tables]
    for table in tables:
        table.update({code: f"§{number}" for number, code in enumerate(table)})
    try:
        yield
    finally:
        for table, words in zip(tables, former, strict=True):
            table.update(words)


def _tables() -> Iterator[dict[str, Any]]:
    """The words of each room: the tables of its modules that hold nothing else."""
    for module in pkgutil.walk_packages(cravik.__path__, "cravik."):
        _, _, last = module.name.rpartition(".")
        if last in ("refusals", "step_words", "cleared_words") or module.name.startswith("cravik.core.text.faults"):
            for name, value in vars(importlib.import_module(module.name)).items():
                if name.strip("_").isupper() and isinstance(value, dict) and _are_words(value):
                    yield value


def _are_words(table: dict[str, Any]) -> bool:
    return all(isinstance(words, str | FunctionType) for words in table.values())


def _sources() -> Iterator[Path]:
    root = Path(cravik.__path__[0])
    return (file for file in root.rglob("*.py") if "tests" not in file.parts and "migrations" not in file.parts)


def _codes_in(file: Path) -> Iterator[tuple[str, str]]:
    """Each code that is named where something told is made, and where that is."""
    for node in ast.walk(ast.parse(file.read_text())):
        if not isinstance(node, ast.Call):
            continue
        name = node.func.id if isinstance(node.func, ast.Name) else getattr(node.func, "attr", "")
        places = _MAKERS.get(name, ()) or (_METHODS.get(name, ()) if isinstance(node.func, ast.Attribute) else ())
        codes = [text for place in places if place < len(node.args) for text in _texts_in(node.args[place])]
        whys = [_texts_in(each.value) for each in node.keywords if each.arg == "why"]
        for code in codes if not whys else [text or codes[0] for text in whys[0] if codes]:
            yield code, f"{file.name}:{node.lineno}"


def _texts_in(node: ast.expr) -> list[str]:
    """The text that the expression is, or those that it chooses from."""
    match node:
        case ast.Constant(value=str(text)):
            return [text]
        case ast.IfExp(body=body, orelse=orelse):
            return [*_texts_in(body), *_texts_in(orelse)]
        case _:
            return []
