"""A letter that cannot be sent or written is no other letter's business, and its seller learns of it."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from datetime import datetime, timedelta
from io import BytesIO
from pathlib import Path
from unittest import mock

from django.test import SimpleTestCase, TestCase
from django.utils import timezone
from PIL import Image

from cravik.catalogue.tests.photos import photo
from cravik.mailroom.models import Letter
from cravik.mailroom.services import MAX_TRIES, OutgoingLetter, deliver_waiting, message_of, queue_letters
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.letters import letters_about
from cravik.orders.models import MAX_LETTER_TRIES, Order
from cravik.setup.look_services import starting_document
from cravik.setup.looks import look_of
from cravik.setup.messages.kinds import CAN_BE_BOUGHT
from cravik.setup.messages.wording import compose
from cravik.ui.fields import is_mail_address
from cravik.ui.picture_files import keep_picture, picture_file, remove_files
from tests.factories import NOW, MembershipFactory, make_live
from tests.paying import open_page, pay_live, send

#: What Django's own form field takes, and mail does not.
POISON = "a@\u200b.de"


def letter(occasion: str, to: str = "maren@dunes.example") -> OutgoingLetter:
    return OutgoingLetter("receipt", occasion, "Maren", to, "Paid", "Thank you.", "<p>Thank you.</p>")


def refusing(*addresses: str) -> Callable[..., None]:
    """A mail server that takes nothing for these addresses."""

    def send_to(message: mock.Mock) -> None:
        if any(address in message.to[0] for address in addresses):
            raise OSError("550 no such user")

    return send_to


class DeliveryTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business

    def deliver(self, now: datetime = NOW, broken: str = "gone@dunes.example") -> int:
        with mock.patch("django.core.mail.EmailMessage.send", autospec=True, side_effect=refusing(broken)):
            return deliver_waiting(now)

    def states(self) -> dict[str, str]:
        return dict(Letter.objects.values_list("occasion", "state"))

    def test_the_logo_goes_with_the_letter_and_one_that_is_gone_holds_up_nothing(self) -> None:
        folder = self.enterContext(tempfile.TemporaryDirectory())
        with self.settings(CRAVIK_PICTURES=Path(folder)):
            kept = keep_picture(BytesIO(photo((400, 200))), 1000)
            look = look_of({**starting_document(), "logo": kept, "logo_words": "A blue jug"})
            composed = compose(CAN_BE_BOUGHT, CAN_BE_BOUGHT.original, {"business": "Jug & Bowl"}, look=look)
            self.assertIn('alt="A blue jug"', composed.html)
            kept_letter = OutgoingLetter("receipt", "logo", "Maren", "maren@dunes.example", **vars(composed))
            queue_letters(self.business, [kept_letter], NOW)
            sent = message_of(Letter.objects.get(), NOW).message()
            self.assertEqual(sent.get_content_type(), "multipart/related")
            parts = {part.get_content_type(): part for part in sent.walk()}
            self.assertEqual(parts["image/png"]["Content-ID"], "<logo>")
            self.assertEqual(Image.open(BytesIO(parts["image/png"].get_payload(decode=True))).size[0], 320)
            self.assertIn('src="cid:logo"', parts["text/html"].get_payload(decode=True).decode())
            self.client.force_login(self.member.user)
            shown = self.client.get(f"/mailroom/{Letter.objects.get().pk}/body/")
            self.assertIn(f"img-src http://localhost:8000{look.logo}", shown["Content-Security-Policy"])
            picture_file(kept["name"], 320).write_bytes(b"RIFF")
            damaged = message_of(Letter.objects.get(), NOW).message()
            self.assertEqual(damaged.get_content_type(), "multipart/alternative")
            remove_files(**kept)
            self.assertEqual(
                message_of(Letter.objects.get(), NOW).message().get_content_type(), "multipart/alternative"
            )

    def test_a_failing_one_is_tried_thrice_then_parked_and_holds_up_no_other(self) -> None:
        queue_letters(self.business, [letter("bad", "gone@dunes.example"), letter("good")], NOW)
        self.assertEqual(self.deliver(), 1)
        self.assertEqual(self.states(), {"bad": "waiting", "good": "sent"})
        self.assertEqual(self.deliver(), 0)  # not at once: it waits for its time
        self.assertEqual(Letter.objects.get(occasion="bad").tries, 1)
        with self.assertLogs("cravik.mailroom", "ERROR") as logged:
            for minutes in (2, 10):
                self.deliver(NOW + timedelta(minutes=minutes))
        bad = Letter.objects.get(occasion="bad")
        self.assertEqual((bad.state, bad.tries, bad.trouble), ("parked", MAX_TRIES, "OSError: 550 no such user"))
        self.assertNotIn("gone@dunes.example", str(logged.output))
        self.assertEqual(self.deliver(NOW + timedelta(days=1)), 0)

    def test_a_letter_that_cannot_even_be_composed_stops_nobody_elses(self) -> None:
        other = MembershipFactory().business
        queue_letters(self.business, [letter("bad", POISON)], NOW)
        queue_letters(other, [letter("good")], NOW)
        self.assertEqual([deliver_waiting(NOW), self.states()["good"]], [1, "sent"])

    def test_the_mailroom_shows_what_could_not_be_sent_and_sends_it_again(self) -> None:
        queue_letters(self.business, [letter("bad", "gone@dunes.example"), letter("good")], NOW)
        for minutes in (0, 2, 10):
            self.deliver(NOW + timedelta(minutes=minutes))
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get("/mailroom/"), "One letter could not be sent.")
        listed = self.client.get("/mailroom/?state=parked")
        self.assertContains(listed, "gone@dunes.example")
        self.assertNotContains(listed, "maren@dunes.example")
        bad = Letter.objects.get(occasion="bad")
        self.assertContains(self.client.get(f"/mailroom/{bad.pk}/"), "550 no such user")
        stranger = MembershipFactory()
        self.client.force_login(stranger.user)
        self.assertEqual(self.client.post(f"/mailroom/{bad.pk}/again/").status_code, 404)
        self.client.force_login(self.member.user)
        told = self.client.post(f"/mailroom/{bad.pk}/again/", follow=True)
        self.assertContains(told, "It is being sent again.")
        deliver_waiting(timezone.now())
        self.assertEqual(self.states(), {"bad": "sent", "good": "sent"})


class WritingTest(TestCase):
    def test_one_orders_letters_that_cannot_be_written_block_no_other_orders(self) -> None:
        first, second = make_live(), make_live()
        member = MembershipFactory(business=first.business)
        for link in (first, second):
            pay_live(self.client, link, email=f"buyer-{link.pk}@dunes.example")
        broken, fine = Order.objects.order_by("id")
        Letter.objects.all().delete()
        Order.objects.update(letters_due=True)

        def letters(order: Order) -> list[OutgoingLetter]:
            if order.pk == broken.pk:
                raise ValueError("a placeholder that nobody knew")
            return letters_about(order)

        with mock.patch("cravik.orders.letter_tasks.letters_about", side_effect=letters):
            written = [write_due_letters.call() for _ in range(MAX_LETTER_TRIES + 1)]
        self.assertEqual(written, [1, 0, 0, 0])
        self.assertEqual(
            {each.split("-to-")[0] for each in Letter.objects.values_list("occasion", flat=True)}, {f"order-{fine.pk}"}
        )
        broken.refresh_from_db()
        self.assertEqual((broken.letters_due, broken.letters_tries), (True, MAX_LETTER_TRIES))
        self.client.force_login(member.user)
        self.assertContains(self.client.get(broken.path), "Its letters could not be written.")
        self.client.post(f"/orders/{broken.pk}/letters/")
        write_due_letters.call()
        broken.refresh_from_db()
        self.assertFalse(broken.letters_due)


class AddressTest(SimpleTestCase):
    def test_what_cannot_be_an_address_is_told_from_what_can(self) -> None:
        for address in ("maren@dunes.example", "o'neil+kites@strand.dunes.example", "kaethe@dünen.example"):
            self.assertTrue(is_mail_address(address), address)
        for address in (POISON, "a\u200b@b.de", "a@b\u202e.de", "a@b..de", "a b@c.de", "a@", "@b.de", "a\x00@b.de"):
            self.assertFalse(is_mail_address(address), ascii(address))


class AddressOnThePageTest(TestCase):
    def test_it_is_refused_at_the_form_and_nothing_is_charged(self) -> None:
        link = make_live()
        refused = send(self.client, link, open_page(self.client, link) | {"email": POISON})
        self.assertContains(refused, "That is not an e-mail address.", status_code=400)
        self.assertFalse(Order.objects.exists())
