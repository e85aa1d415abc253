"""Whatever a buyer or a seller types, every letter is written, says it as it was typed, and tells nobody more than they
may see."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import replace
from html.parser import HTMLParser
from typing import Any
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase, override_settings

from cravik.catalogue.digital_goods import add_codes, add_file
from cravik.catalogue.models import Item
from cravik.core.link.content import AFTER_PLACEHOLDERS
from cravik.links.life import lifecycle
from cravik.links.life.shown_version import shown_version
from cravik.links.making.copies import make_link_of_item
from cravik.links.waiting.waiters import letter_to_waiting
from cravik.mailroom.models import Letter
from cravik.mailroom.services import OutgoingLetter, message_of, queue_letters
from cravik.orders.after_paying import order_values
from cravik.orders.letters import letters_about, letters_about_stock, notice_values, receipt_values
from cravik.orders.models import Order
from cravik.setup.messages.kinds import CAN_BE_BOUGHT, KINDS, RECEIPT, SALE_NOTICE
from cravik.setup.messages.message import Words
from cravik.setup.messages.wording import Composed, compose
from cravik.setup.models import Wording
from cravik.setup.terms import make_terms
from cravik.share.sending import CHANNELS
from cravik.share.sending import message_of as message_to_send
from tests.factories import BY, NOW, make_business, make_item, make_live
from tests.hostile import LINES, TEXTS
from tests.links import make_link
from tests.paying import open_page, pay_live, send
from tests.sampling import sample_of

#: What only the seller may read, and what only the buyer may.
SELLERS_ALONE = ("Left for you", "The processor", "Tax you owe", "/orders/1001", "SECRET NAME OF THE LINK")
BUYERS_ALONE = ("WIND-4K7Q", "/paid/")
HARMLESS = {
    "html",
    "head",
    "meta",
    "title",
    "style",
    "body",
    "main",
    "div",
    "p",
    "br",
    "em",
    "strong",
    "ul",
    "ol",
    "li",
}
HARMLESS |= {"a", "h1", "table", "tbody", "tr", "th", "td", "span", "hr", "footer", "header"}


class _Read(HTMLParser):
    """What a mail program makes of a letter: its tags, where its links lead, and its words."""

    def __init__(self, html: str) -> None:
        super().__init__()
        self.tags: set[str] = set()
        self.leads: set[str] = set()
        self.words = ""
        self.feed(html)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.add(tag)
        self.leads |= {value or "" for name, value in attrs if name in ("href", "src")}
        assert not any(name.startswith("on") for name, _ in attrs), attrs

    def handle_data(self, data: str) -> None:
        self.words += data


@override_settings(CRAVIK_FILES=tempfile.gettempdir())
class HostileLettersTest(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.business = make_business()
        item = make_item(cls.business, "Kite pattern", 900)
        Item.objects.filter(id=item.pk).update(kind="download")
        item.refresh_from_db()
        with tempfile.TemporaryDirectory() as folder, override_settings(CRAVIK_FILES=folder):
            add_file(item, SimpleUploadedFile("pattern.pdf", b"%PDF"), NOW, by=BY)
        add_codes(item, "WIND-4K7Q", NOW, by=BY)
        make_terms(cls.business, "Terms of sale", "x", NOW, by=BY)
        cls.link = lifecycle.publish(make_link_of_item(cls.business, item, item.price, NOW, by=BY), NOW, by=BY)
        type(cls.link).objects.filter(id=cls.link.pk).update(name="SECRET NAME OF THE LINK")
        with mock.patch("cravik.orders.letter_tasks.letters_about", return_value=[]):
            pay_live(Client(), cls.link)
        Order.objects.update(letters_due=True)

    def order(self) -> Order:
        order = Order.objects.due_letters().get()
        order.checkout.where = {"street": "2 Strand Lane", "town": "Marramport", "country": "IE"}
        order.checkout.answers = [{"key": "tail", "label": "Tail", "answer": "Maren"}]
        return order

    def check(self, composed: Composed, secrets: tuple[str, ...], typed: str = "") -> None:
        read = _Read(composed.html)
        self.assertLessEqual(read.tags, HARMLESS)
        for lead in read.leads:
            self.assertRegex(lead, r"^(https?://|mailto:)")
        for secret in secrets:
            for part in (composed.subject, composed.text, composed.html):
                self.assertNotIn(secret, part)
        if typed and "\n" not in typed:
            shown = " ".join(typed.split())
            self.assertTrue(shown in " ".join(read.words.split()), f"not in the letter: {shown[:60]}")
            self.assertTrue(shown in " ".join(composed.text.split()), f"not in its text: {shown[:60]}")

    def test_every_value_of_an_order_in_receipt_and_notice(self) -> None:
        def code(order: Order, text: str) -> None:
            for hold in order.checkout.holds.all():
                if hold.access_code:
                    hold.access_code.code = text

        def file(order: Order, text: str) -> None:
            for download in order.downloads.all():
                download.file.title = text

        def terms(order: Order, text: str) -> None:
            assert order.checkout.agreed_to
            order.checkout.agreed_to.terms.name = text

        def line(order: Order, text: str) -> None:
            (row,) = order.checkout.lines.all()
            row.quote_document["lines"][0]["name"] = text

        def tails(order: Order, **answer: str) -> None:
            order.checkout.answers = [order.checkout.answers[0] | answer]

        values: dict[str, tuple[Callable[[Order, str], Any], str]] = {
            "the buyer's name": (lambda order, text: setattr(order, "buyer_name", text), "both"),
            "what was bought": (lambda order, text: setattr(order, "title", text), "sale_notice"),
            "the business": (lambda order, text: setattr(order.business, "name", text), "receipt"),
            "a line": (line, "both"),
            "an answer": (lambda order, text: tails(order, answer=text), "both"),
            "a question": (lambda order, text: tails(order, label=text), "both"),
            "the street": (lambda order, text: order.checkout.where.update(street=text), "both"),
            "the town": (lambda order, text: order.checkout.where.update(town=text), "both"),
            "the region": (lambda order, text: order.checkout.where.update(region=text), "both"),
            "the statement": (lambda order, text: order.checkout.own_contact.update(statement_text=text), "receipt"),
            "the contact": (lambda order, text: order.checkout.own_contact.update(support_email=text), "receipt"),
            "an access code": (code, "receipt"),
            "a file": (file, "receipt"),
            "the terms": (terms, "receipt"),
            "the link": (lambda order, text: setattr(order.link, "name", text), "sale_notice"),
        }
        for what, (put, instant_shown) in values.items():
            for text in sample_of(TEXTS, 8, what):
                with self.subTest(what, text=text[:40]):
                    order = self.order()
                    put(order, text)
                    receipt, notice = letters_about(order)
                    for letter, secrets in ((receipt, SELLERS_ALONE), (notice, BUYERS_ALONE)):
                        is_shown = instant_shown in ("both", letter.kind)
                        composed = Composed(letter.subject, letter.text, letter.html)
                        self.check(composed, secrets, text if is_shown else "")

    def test_every_wording_of_every_message_and_every_value_in_it(self) -> None:
        for kind in KINDS.values():
            for text in TEXTS:
                with self.subTest(kind.kind, text=text[:40]):
                    values = {name: text if isinstance(value, str) else value for name, value in kind.samples.items()}
                    self.check(compose(kind, kind.original, values), ())
                    self.check(compose(kind, Words(text, text, text), kind.samples), ())
                    hidden = {**kind.samples, "buyer": "{kept}", "business": "{order_address}", "thing": "{link}"}
                    told = {name: value for name, value in hidden.items() if name in kind.names}
                    self.check(
                        compose(kind, Words(text, text, text), told), () if "link" in kind.names else SELLERS_ALONE
                    )

    def test_the_message_after_paying_as_a_wording_and_with_every_value(self) -> None:
        version = shown_version(self.order().version_id)
        for text in TEXTS:
            with self.subTest(text=text[:40]):
                for message, name in ((text, "Maren"), ("{buyer} {thing} **{reference}** {kept}", text)):
                    after = replace(version.content.after, message=message)
                    changed = replace(version, content=replace(version.content, after=after))
                    order = self.order()
                    order.buyer_name = name
                    with (
                        mock.patch("cravik.orders.after_paying.shown_version", return_value=changed),
                        mock.patch("cravik.orders.letters.shown_version", return_value=changed),
                    ):
                        receipt, _ = letters_about(order)
                    self.check(Composed(receipt.subject, receipt.text, receipt.html), SELLERS_ALONE)

    def test_letters_about_stock_to_who_waits_and_messages_that_send_a_link(self) -> None:
        order = self.order()
        variant = self.link.business.item_set.get().variants.all()[0]
        version = shown_version(order.version_id)
        for text in TEXTS:
            with self.subTest(text=text[:40]):
                order.checkout.business.name = text
                variant.item.name = text
                (letter,) = letters_about_stock(variant, order.checkout)
                self.check(Composed(letter.subject, letter.text, letter.html), SELLERS_ALONE, text)
                changed = replace(version, offer=replace(version.offer, title=text))
                self.link.business.name = text
                with (
                    mock.patch("cravik.links.waiting.waiters.shown_version", return_value=changed),
                    mock.patch("cravik.share.sending.shown_to_buyers", return_value=changed),
                ):
                    self.check(letter_to_waiting(self.link), SELLERS_ALONE, text)
                    for channel in CHANNELS.values():
                        message = message_to_send(self.link, channel, self.link.spots.get())
                        self.assertIn(" ".join(text.split()), " ".join(message.text.split()))

    def test_every_subject_and_name_makes_a_mail(self) -> None:
        for number, text in enumerate(TEXTS):
            with self.subTest(text=text[:40]):
                letter = OutgoingLetter("receipt", f"x-{number}", text[:200], "maren@dunes.example", text, text, text)
                queue_letters(self.business, [letter], NOW)
                mail = message_of(Letter.objects.get(occasion=f"x-{number}"), NOW).message()
                self.assertEqual(mail["To"].count("@"), 1 + text[:200].count("@"))
                self.assertTrue(mail.as_bytes())


class TypedTest(TestCase):
    def test_a_reader_is_told_what_the_message_says_and_nothing_else(self) -> None:
        pay_live(Client(), make_live())
        order = Order.objects.get()
        self.assertEqual(set(receipt_values(order)), RECEIPT.names)
        self.assertEqual(set(notice_values(order)), SALE_NOTICE.names)
        self.assertEqual(set(order_values("a", "b", order.paid, 1, "c", "en")), set(AFTER_PLACEHOLDERS))
        with self.assertRaisesMessage(ValueError, "the reader of receipt is not told ['kept']"):
            compose(RECEIPT, RECEIPT.original, {**RECEIPT.samples, "kept": "€37.97"})
        with self.assertRaises(ValueError):
            compose(CAN_BE_BOUGHT, CAN_BE_BOUGHT.original, RECEIPT.samples)

    def test_who_paid_is_shown_their_page_and_gets_their_letters_whatever_they_typed(self) -> None:
        questions = [
            {"key": "line", "kind": "short_text", "label": "{kept} {label}", "longest": 200},
            {"key": "story", "kind": "long_text", "label": "<b>Story", "longest": 5000},
        ]
        link = make_link(questions=questions, after={"message": "Thank you, **{buyer}**: {thing}, {order}."})
        for number, text in enumerate((*LINES[:12], "<script>alert(1)</script>", "[go](javascript:alert(1))")):
            with self.subTest(text=text):
                name = f"Maren {text}"[:100]
                form = open_page(Client(), link) | {"answer.line": text[:200], "answer.story": (text * 200)[:5000]}
                answer = send(Client(), link, form | {"name": name, "email": f"buyer{number}@dunes.example"})
                page = Client().get(answer["Location"])
                self.assertContains(page, "Thank you")
                self.assertNotContains(page, "<script>alert(1)")
                order = Order.objects.latest("id")
                self.assertFalse(order.letters_due)
                for kind in ("receipt", "sale_notice"):
                    letter = Letter.objects.filter(kind=kind).latest("id")
                    self.assertIn(" ".join(name.split()), " ".join(letter.text.split()))
                receipt = Letter.objects.filter(kind="receipt").latest("id")
                self.assertNotIn("Left for you", receipt.text + receipt.html)

    def test_a_sellers_own_wording_that_means_nothing_is_left_as_text(self) -> None:
        business = make_business()
        Wording.objects.create(
            business=business,
            kind="receipt",
            subject="{nobody}",
            heading="{Kept} {kept}",
            body="{order_address} {x y} [here]({kept}) [there](https://a.example/?o={reference}&k={kept})",
            changed_at=NOW,
        )
        pay_live(Client(), make_live(business))
        letter, order = Letter.objects.get(kind="receipt"), Order.objects.get()
        self.assertEqual(letter.subject, "{nobody}")
        self.assertIn("{Kept} {kept}\n\n{order_address} {x y} here: {kept}", letter.text)
        self.assertIn(f"https://a.example/?o={order.checkout.reference}&amp;k=%7Bkept%7D", letter.html)
        self.assertNotIn("Left for you", letter.html)
