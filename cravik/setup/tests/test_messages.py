"""The wording of messages: changed, filled in, refused by name, and brought back."""

from __future__ import annotations

import doctest
from typing import Any

from django.test import SimpleTestCase, TestCase

from cravik.mailroom.models import Letter
from cravik.orders.letter_tasks import write_due_letters
from cravik.setup.messages import filling
from cravik.setup.messages.filling import Block, WebAddress, fill_html, fill_line, fill_text
from cravik.setup.messages.kinds import KINDS
from cravik.setup.messages.message import Words
from cravik.setup.messages.wording import compose, refusals
from cravik.setup.models import Wording
from tests.factories import MembershipFactory, make_item, make_live
from tests.paying import pay_live


class FillingTest(SimpleTestCase):
    def test_its_examples_are_true(self) -> None:
        self.assertEqual(doctest.testmod(filling).failed, 0)

    def test_values_are_never_markup(self) -> None:
        hostile = "<img src=x onerror=alert(1)> **strong** [x](javascript:alert(1)) {buyer}"
        html = fill_html("Dear {buyer}, [see]({page})", {"buyer": hostile, "page": WebAddress('https://x.example/"')})
        self.assertNotIn("<img", html)
        self.assertNotIn("<strong>", html)
        self.assertIn("{buyer}", html)
        self.assertIn('href="https://x.example/&quot;"', html)

    def test_a_sellers_own_markup_is_cleaned(self) -> None:
        html = fill_html("<script>alert(1)</script> [x](javascript:alert(1)) **{a}**", {"a": "b"})
        self.assertNotIn("<script>", html)
        self.assertNotIn("javascript:alert", html.split("</a>")[0].split(">")[0])
        self.assertIn("<strong>b</strong>", html)

    def test_blocks_stand_by_themselves_and_empty_ones_close_up(self) -> None:
        rows = Block("  Kite  €48.00", "<table><tr><td>Kite</td></tr></table>")
        values = {"slip": rows, "none": Block("", "")}
        self.assertEqual(fill_text("One\n\n{none}\n\n{slip}", values), "One\n\n  Kite  €48.00")
        self.assertEqual(fill_html("One\n\n{none}\n\n{slip}", values).count("<p>"), 1)
        self.assertEqual(fill_line("A {slip}", values), "A Kite €48.00")


class OriginalsTest(SimpleTestCase):
    def test_every_original_fills_in_with_its_samples(self) -> None:
        for kind in KINDS.values():
            with self.subTest(kind.kind):
                composed = compose(kind, kind.original, kind.samples)
                for part in (composed.subject, composed.text, composed.html.partition("</style>")[2]):
                    self.assertNotRegex(part, r"[{}]")
                self.assertEqual(refusals(kind, kind.original.body), [])


class WordingTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def save(self, kind: str = "receipt", seen: int = 0, **changes: str) -> Any:
        original = KINDS[kind].original
        sent = {"subject": original.subject, "heading": original.heading, "body": original.body}
        return self.client.post(f"/setup/messages/{kind}/", sent | {"seen": str(seen)} | changes)

    def letters(self) -> dict[str, Letter]:
        self.client.logout()
        pay_live(self.client, make_live(self.member.business), name="Maren <b>Saltmarsh</b>")
        write_due_letters.call()
        self.client.force_login(self.member.user)
        return {letter.kind: letter for letter in Letter.objects.all()}

    def test_what_the_seller_wrote_is_what_goes_out(self) -> None:
        self.save(subject="Hooray, {buyer}", heading="It flies", body="**{thing}** for {amount}\n\n{slip}")
        self.save("sale_notice", heading="Money!")
        letters = self.letters()
        receipt = letters["receipt"]
        self.assertEqual(receipt.subject, "Hooray, Maren <b>Saltmarsh</b>")
        self.assertTrue(receipt.text.startswith("It flies\n\nKite repair for €24.00\n\n  Kite repair  €24.00"))
        self.assertIn("<strong>Kite repair</strong> for €24.00", receipt.html)
        self.assertIn("<h1>Money!</h1>", letters["sale_notice"].html)

    def test_every_placeholder_has_a_value_in_a_real_letter(self) -> None:
        for kind in ("receipt", "sale_notice"):
            body = "\n\n".join(each.written for each in KINDS[kind].placeholders)
            self.assertEqual(self.save(kind, body=body).status_code, 302)
        for letter in self.letters().values():
            self.assertNotRegex(letter.text + letter.html.partition("</style>")[2], r"[{}]")

    def test_an_unknown_placeholder_is_refused_by_name(self) -> None:
        answer = self.save(body="Dear {byer}, {zebra}", subject="{Amount}")
        for sentence in (
            "{byer} stands for nothing in this message. Do you mean {buyer}?",
            "{zebra} stands for nothing in this message.",
            "{Amount} stands for nothing in this message. Do you mean {amount}?",
        ):
            self.assertContains(answer, sentence, status_code=400)
        self.assertContains(answer, "Dear {byer}, {zebra}", status_code=400)
        self.assertContains(self.save(body=" "), "Write the message.", status_code=400)
        self.assertFalse(Wording.objects.exists())

    def test_the_way_back_to_the_original(self) -> None:
        self.save(heading="Mine")
        page = self.client.get("/setup/messages/receipt/")
        self.assertContains(page, "Use the default wording")
        self.assertContains(page, "in your words")
        self.client.post("/setup/messages/receipt/original/")
        self.assertContains(self.client.get("/setup/messages/receipt/"), 'value="Thank you, {buyer}"')
        self.assertContains(self.client.get("/setup/messages/"), "default wording")

    def test_a_second_tab_is_told(self) -> None:
        self.save(heading="First")
        answer = self.save(heading="Second")
        self.assertContains(answer, "changed in another tab", status_code=409)
        self.assertContains(answer, 'value="Second"', status_code=409)

    def test_samples_are_shown_while_it_is_typed(self) -> None:
        sample = self.client.post(
            "/setup/messages/receipt/sample/", {"heading": "Hi {buyer}", "body": "{nobody} <script> {slip}"}
        )
        self.assertContains(sample, "<h1>Hi Maren Saltmarsh</h1>")
        self.assertContains(sample, "{nobody} &lt;script&gt;")
        self.assertIn("sandbox", sample["Content-Security-Policy"])
        self.assertContains(self.client.get("/setup/messages/stock_low/sample/"), "Your item: 2 left")
        make_item(self.member.business, "Blue jug", 3200)
        self.assertContains(self.client.get("/setup/messages/stock_low/sample/"), "Blue jug: 2 left")
        self.assertContains(self.client.get("/setup/messages/receipt/sample/"), "€32.00")
        self.assertContains(self.client.get("/setup/messages/receipt/"), "Blue jug")
        self.assertEqual(self.client.get("/setup/messages/nothing/").status_code, 404)

    def test_a_rehearsal_says_so_whatever_the_wording(self) -> None:
        composed = compose(KINDS["receipt"], Words("S", "H", "B"), {}, rehearsal=True)
        self.assertTrue(composed.subject.startswith("Rehearsal: "))
        self.assertTrue(composed.text.startswith("REHEARSAL."))
        self.assertIn("No money moved", composed.html)
