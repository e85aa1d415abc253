"""Packing slips and labels, read back: whose they are, that what was typed is no markup, and where each label lies."""

from __future__ import annotations

import io
import time
from typing import Any

import pypdfium2
from django.test import SimpleTestCase, TestCase
from django.utils import timezone

from cravik.orders.label_sheets import LABEL_SHEETS
from cravik.orders.models import PARTS, Order
from cravik.orders.papers import address_labels, packing_slips
from tests.factories import MembershipFactory, make_live
from tests.hostile import TEXTS
from tests.links import line, make_link
from tests.paying import pay_as_it_comes, pay_live

POINTS = 72 / 25.4
MARKUP = '#let x = 1 *bold* _it_ $x^2$ @ref `raw` <b> "] ) // ' + "\\u{41} #panic()"


def pages(document: bytes) -> list[Any]:
    return list(pypdfium2.PdfDocument(io.BytesIO(document)))


def text_of(page: Any) -> str:
    return " ".join(page.get_textpage().get_text_bounded().split())


class PapersTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory(business__name="Windlestraw & Söhne")
        self.business = self.member.business
        question = {"key": "tail", "kind": "short_text", "label": "Name on the tail"}
        kite = line("kite", "Delta kite", "48.00", ships=True)
        link = make_link(kite, business=self.business, questions=[question])
        for name, email in (("Maren Saltmarsh", "maren@dunes.example"), ("Åse Ødegård", "aase@dunes.example")):
            typed = {"name": name, "email": email, "street": f"2 Strand Lane\n{MARKUP}"}
            pay_as_it_comes(self.client, link, **typed, **{"answer.tail": MARKUP})
        pay_live(self.client, make_live(self.business), name="Nobody's Address")
        self.client.force_login(self.member.user)

    def whole(self) -> list[Order]:
        return list(Order.objects.select_related("checkout__business").prefetch_related(*PARTS).order_by("number"))

    def test_a_slip_an_order_with_what_goes_in_and_no_price(self) -> None:
        slips = [text_of(page) for page in pages(packing_slips(self.business, self.whole(), timezone.now()))]
        self.assertEqual(len(slips), 3)
        things = ("Delta", "Delta", "repair")
        for slip, name, thing in zip(slips, ("Maren", "Åse Ødegård", "Nobody"), things, strict=True):
            for words in (name, thing, "Windlestraw & Söhne"):
                self.assertIn(words, slip)
            self.assertNotIn("48", slip)
        self.assertIn("Order 1001", slips[0])
        self.assertIn(MARKUP, slips[0])
        self.assertLess(slips[0].index("Order 1001"), slips[0].index("Maren"))
        self.assertLess(slips[0].index("Delta kite"), slips[0].index("Name on the tail"))

    def test_whatever_was_typed_stands_there_as_it_was_typed(self) -> None:
        (order, *_) = self.whole()
        for text in TEXTS:
            with self.subTest(text[:40]):
                order.checkout.answers = [{"label": "Story", "answer": text}]
                order.checkout.line.quote_document["lines"][0]["name"] = text
                self.assertTrue(packing_slips(self.business, [order], timezone.now()).startswith(b"%PDF"))

    def test_the_sheet_is_asked_for_and_a_label_that_it_has_not_is_refused(self) -> None:
        ids = list(Order.objects.values_list("id", flat=True))
        asked = self.client.post("/orders/many/", {"many": "labels", "order": ids})
        self.assertContains(asked, "2 labels. 1 of those you ticked has no address.")
        sure = {"many": "labels", "order": ids, "sure": "yes", "sheet": "a4-21"}
        for first in ("22", "0", "-1", "x", ""):
            self.assertEqual(self.client.post("/orders/many/", sure | {"first": first}).status_code, 400, first)
        made = self.client.post("/orders/many/", sure | {"first": "21"})
        self.assertEqual((made["Content-Type"], len(pages(made.content))), ("application/pdf", 2))
        slips = self.client.post("/orders/many/", {"many": "slips", "order": ids})
        self.assertEqual(len(pages(slips.content)), 3)


class LabelsTest(SimpleTestCase):
    def test_each_label_lies_on_its_own_place_of_every_sheet(self) -> None:
        for name, sheet in LABEL_SHEETS.items():
            with self.subTest(name):
                lines = [[f"Label{number}", "A long street " * 9, "Town"] for number in range(sheet.labels)]
                first, second = pages(address_labels("Windlestraw", lines, sheet, 1, timezone.now()))
                self.assertEqual(text_of(second).split()[0], f"Label{sheet.labels - 1}")
                for number in range(sheet.labels - 1):
                    row, column = divmod(number + 1, sheet.columns)
                    left, bottom, right, top = _place_of(first, f"Label{number}")
                    x = sheet.left + column * (sheet.width + sheet.gap_x)
                    y = sheet.top + row * (sheet.height + sheet.gap_y)
                    self.assertTrue(x <= left and right <= x + sheet.width <= sheet.page_width, (number, left, right))
                    self.assertTrue(y <= top and bottom <= y + sheet.height <= sheet.page_height, (number, top, bottom))

    def test_a_thousand_labels_take_no_five_seconds(self) -> None:
        addresses = [[f"Maren {number}", "2 Strand Lane", "Marramport"] for number in range(1000)]
        began = time.process_time()
        address_labels("Windlestraw", addresses, LABEL_SHEETS["a4-21"], 0, timezone.now())
        self.assertLess(time.process_time() - began, 5)


def _place_of(page: Any, word: str) -> tuple[float, float, float, float]:
    """Where the word stands, in millimetres from the top left: left, bottom, right, top."""
    text = page.get_textpage()
    index, count = text.search(word, match_whole_word=True).get_next()
    boxes = [text.get_charbox(each) for each in range(index, index + count)]
    height = page.get_height()
    left, bottom = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right, top = max(box[2] for box in boxes), max(box[3] for box in boxes)
    return left / POINTS, (height - bottom) / POINTS, right / POINTS, (height - top) / POINTS
