"""Letters about an order that cost nothing thank for no payment."""

from __future__ import annotations

from django.test import TestCase

from cravik.mailroom.models import Letter
from cravik.setup.models import Wording
from tests.factories import NOW, MembershipFactory
from tests.links import line, make_link
from tests.paying import open_page, send


class FreeLettersTest(TestCase):
    def setUp(self) -> None:
        self.business = MembershipFactory().business
        self.link = make_link(line(amount="0"), business=self.business)

    def letters(self) -> dict[str, Letter]:
        with self.captureOnCommitCallbacks(execute=True):
            send(self.client, self.link, open_page(self.client, self.link))
        return {letter.kind: letter for letter in Letter.objects.filter(business=self.business)}

    def test_neither_card_nor_payment_is_spoken_of(self) -> None:
        letters = self.letters()
        receipt, notice = letters["receipt"], letters["sale_notice"]
        self.assertIn("there is nothing to pay", receipt.text)
        self.assertIn("for free", notice.subject)
        for letter in (receipt, notice):
            for word in ("card", "received your payment", "statement", "paid €"):
                self.assertNotIn(word, letter.text + letter.subject)

    def test_a_sellers_own_words_hold_as_long_as_they_speak_of_no_payment(self) -> None:
        self.say("For you: {goods}")
        self.assertIn("For you", self.letters()["receipt"].text)

    def test_a_sellers_own_words_about_a_card_do_not(self) -> None:
        self.say("Paid with {card_ending}.")
        self.assertIn("there is nothing to pay", self.letters()["receipt"].text)

    def say(self, body: str) -> None:
        words = {"subject": "Hello", "heading": "Hello", "body": body, "changed_at": NOW}
        Wording.objects.create(business=self.business, kind="receipt", **words)
