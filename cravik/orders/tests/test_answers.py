from __future__ import annotations

import csv
import io
import json
from typing import Any

from django.test import Client
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from cravik.core.documents.link import read_link
from cravik.core.link.questions import check_answers
from cravik.mailroom.models import Letter
from cravik.orders.exports import answer_words
from cravik.orders.models import Order
from tests.factories import make_business
from tests.links import document, make_link
from tests.paying import open_page, pay_live, send
from tests.sampling import count_of

QUESTIONS: list[dict[str, Any]] = [
    {"key": "tail", "kind": "short_text", "label": "=Name on the tail", "longest": 24},
    {"key": "story", "kind": "long_text", "label": "Your story", "longest": 60},
    {"key": "guests", "kind": "number", "label": "How many guests?", "least": 1, "most": "12.5"},
    {"key": "size", "kind": "one_of", "label": "Size", "options": ["S", "M", "L"]},
    {"key": "days", "kind": "several_of", "label": "Which days?", "options": ["Sat", "Sun"], "least": 1, "most": 2},
    {"key": "photos", "kind": "yes_no", "label": "May we take pictures?"},
    {"key": "when", "kind": "day", "label": "When?", "earliest": "2026-12-01", "latest": "2026-12-24"},
]
# A null character, which no browser lets anybody type, is refused by the form before any question is asked.
_SIGNS = st.characters(exclude_characters="\x00", exclude_categories=["Cs"])
_ANYTHING = st.text(_SIGNS, max_size=40)
#: What is mostly right in each kind, and sometimes anything.
_ANSWERS = {
    "tail": st.text(_SIGNS, max_size=26),
    "story": _ANYTHING,
    "guests": st.decimals(-1, 14, places=1).map(str) | st.sampled_from(["3", "4,5", "٣", "12.50"]) | _ANYTHING,
    "size": st.sampled_from(["S", "M", "L"]) | _ANYTHING,
    "days": st.lists(st.sampled_from(["Sat", "Sun"]), max_size=3) | st.lists(_ANYTHING, max_size=2),
    "photos": st.sampled_from(["yes", "no", "YES"]) | _ANYTHING,
    "when": st.dates().map(str) | st.sampled_from(["2026-12-24", "2026-12-01"]) | _ANYTHING,
}


class AnswersTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.link = make_link(business=self.business, questions=QUESTIONS)
        self.seller = Client()
        self.seller.force_login(self.business.members.get())

    @settings(max_examples=count_of(200, 25), deadline=None)
    @given(st.fixed_dictionaries({}, optional=_ANSWERS))
    def test_whatever_is_answered_is_refused_or_kept_exactly_in_the_order_of_the_questions(self, sent: Any) -> None:
        questions = read_link(document(questions=QUESTIONS)).questions
        right = check_answers(questions, sent)
        form = open_page(Client(), self.link) | {f"answer.{key}": answer for key, answer in sent.items()}
        answer = send(Client(), self.link, form)
        if right.faults:
            self.assertEqual((answer.status_code, Order.objects.count()), (400, 0))
            return
        self.assertEqual(answer.status_code, 303)
        order = Order.objects.get()
        kept = json.loads(json.dumps([right.answers[q.key] for q in questions if q.key in right.answers]))
        self.assertEqual([each["answer"] for each in order.checkout.answers], kept)
        labels = [q.label for q in questions if q.key in right.answers]
        self.assertEqual([each["label"] for each in order.checkout.answers], labels)
        (exported,) = json.loads(b"".join(self.seller.get("/orders/orders.json").streaming_content))
        self.assertEqual(exported["answers"], order.checkout.answers)
        body = b"".join(self.seller.get("/orders/orders.csv").streaming_content).decode("utf-8-sig")
        (row,) = csv.DictReader(io.StringIO(body, newline=""))
        for each in order.checkout.answers:
            label = f"'{each['label']}" if each["label"].startswith("=") else each["label"]
            self.assertEqual(row[label].removeprefix("'"), answer_words(each["answer"]).removeprefix("'"))

    def test_receipt_and_notice_tell_them_under_the_label_that_was_shown(self) -> None:
        sent = {"answer.tail": "<b>Maren</b>", "answer.days": ["Sat", "Sun"], "answer.photos": "no"}
        pay_live(Client(), self.link, **sent)  # type: ignore[arg-type]  # a list of ticks
        for kind in ("receipt", "sale_notice"):
            letter = Letter.objects.get(kind=kind)
            told = "  =Name on the tail: <b>Maren</b>\n  Which days?: Sat and Sun\n  May we take pictures?: no"
            self.assertIn(told, letter.text)
            self.assertIn("&lt;b&gt;Maren&lt;/b&gt;", letter.html)
