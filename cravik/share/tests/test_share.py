"""Handing a link out: its spots, what they lead to, and the button."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from urllib.parse import parse_qs

import time_machine
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from django.utils import timezone
from django.utils.html import escape

from cravik.catalogue.tests.photos import photo
from cravik.links.life.lifecycle import publish
from cravik.links.models import Link, Spot
from cravik.links.places.spots import end_spot, first_spot, make_spot, make_spots, move_spot
from cravik.setup.messages.message import Words
from cravik.setup.messages.wording import change_wording
from cravik.share.models import PastedButton
from cravik.share.on_pages.pasting import pasting_of
from cravik.share.on_pages.plain import plain_button
from tests.factories import BROWSER, BY, NOW, MembershipFactory, change_price, make_draft, make_live
from tests.paying import filled_in, send


class HandOutTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.link = make_live(self.member.business, 'A "kite" & <b>tail</b>')
        self.first = first_spot(self.link)
        self.page = f"/links/{self.link.pk}/hand-out/"
        self.client.force_login(self.member.user)

    def spot_page(self, spot: Spot) -> str:
        return f"/links/{spot.link_id}/spots/{spot.pk}/"

    def test_a_spot_is_made_in_one_step(self) -> None:
        answer = self.client.post(self.page, {"name": "Stall sign"})
        spot = Spot.objects.get(name="Stall sign")
        self.assertRedirects(answer, self.spot_page(spot))
        self.assertContains(self.client.get(self.page), f"http://localhost:8000{spot.path}")
        again = self.client.post(self.page, {"name": "Stall sign"})
        self.assertContains(again, "“Stall sign 2” is free", status_code=400)
        self.assertContains(self.client.post(self.page, {"name": " "}), "Say where it will be", status_code=400)

    def test_a_pasted_list_makes_many_and_names_those_that_are_there(self) -> None:
        make_spot(self.link, "Stall sign", NOW, by=BY)
        told = self.client.post(self.page, {"names": "Stall sign\r\n\r\n Newsletter \nPage of the club"}, follow=True)
        self.assertContains(told, "2 spots are made")
        self.assertContains(told, "The link has these already: “Stall sign”")
        for wrong, says in (("", "one a line"), ("x" * 81, "81 characters"), ("\n".join(map(str, range(501))), "501")):
            self.assertContains(self.client.post(self.page, {"names": wrong}), says, status_code=400)

    def test_the_list_tells_what_each_did_and_what_to_do_next(self) -> None:
        old = timezone.now() - timedelta(days=10)
        make_spots(self.link, ["Quiet", "Busy", "Over"], old, by=BY)
        busy, over = Spot.objects.get(name="Busy"), Spot.objects.get(name="Over")
        end_spot(over, "", NOW, by=BY)
        self.client.logout()
        paid = self.client.get(busy.path, headers={"user-agent": BROWSER})
        send(self.client, self.link, filled_in(paid))
        self.client.force_login(self.member.user)
        lines = {line.spot.name: line for line in self.client.get(f"{self.page}?sort=money").context["listed"].lines}
        self.assertEqual(list(lines), ["Busy", "Quiet", "Main link", "Over"])
        self.assertEqual([each.major for each in lines["Busy"].money], ["24.00"])
        self.assertEqual((lines["Busy"].ladder.paid, lines["Busy"].next), (1, ""))
        home = self.client.get("/").context["rows"][0]
        self.assertEqual(home.ladder.opened, sum(line.ladder.opened for line in lines.values()))
        self.assertEqual(lines["Quiet"].next, "Nobody has come yet. Is it up?")
        with time_machine.travel(timezone.now() + timedelta(days=40)):
            self.client.force_login(self.member.user)
            listed = self.client.get(f"{self.page}?q={busy.code.lower()}").context["listed"]
        self.assertEqual([line.next for line in listed.lines], ["Nobody has come for 40 days. Is it still up?"])
        self.assertContains(self.client.get(f"{self.page}?q=nowhere"), "No spot has “nowhere”")

    def test_name_note_and_photo_are_kept(self) -> None:
        spot = make_spot(self.link, "Stall sign", NOW, by=BY)
        sent: dict[str, Any] = {"name": "Sign", "note": "left of the till"}
        self.client.post(self.spot_page(spot), sent | {"photo": SimpleUploadedFile("a.jpg", photo())})
        spot.refresh_from_db()
        self.assertEqual((spot.name, spot.note), ("Sign", "left of the till"))
        self.assertContains(self.client.get(self.page), spot.photo["name"])
        self.client.post(self.spot_page(spot), sent | {"remove_photo": "yes"})
        spot.refresh_from_db()
        self.assertIsNone(spot.photo)
        wrong = self.client.post(self.spot_page(spot), sent | {"photo": SimpleUploadedFile("a.jpg", b"no picture")})
        self.assertContains(wrong, "was not taken", status_code=400)
        taken = self.client.post(self.spot_page(spot), sent | {"name": "Main link"})
        self.assertContains(taken, "Another spot of this link", status_code=400)

    def test_a_spot_is_moved_after_saying_what_that_means(self) -> None:
        other = make_draft(self.member.business, "Tail ribbon")
        spot = make_spot(self.link, "Stall sign", NOW, by=BY)
        path = f"{self.spot_page(spot)}move/"
        self.assertContains(self.client.get(f"{path}?q=ribbon"), f'href="?to={other.pk}"')
        means = self.client.get(f"{path}?to={other.pk}")
        self.assertContains(means, "What is printed stays valid.")
        self.assertContains(means, "is a draft")
        answer = self.client.post(path, {"to": other.pk}, follow=True)
        self.assertContains(answer, "Moved.")
        self.assertContains(self.client.get(self.page), "Moved to other links")
        moved_to = f"/links/{other.pk}/spots/{spot.pk}/"
        self.assertRedirects(self.client.get(self.spot_page(spot)), moved_to)
        self.assertRedirects(self.client.post(path, {"to": other.pk}), moved_to)
        foreign = make_live()
        moved = Spot.objects.get(id=spot.pk)
        self.assertEqual(self.client.post(f"{self.spot_page(moved)}move/", {"to": foreign.pk}).status_code, 404)

    def test_the_first_spot_is_moved_too_and_never_ended(self) -> None:
        other = make_live(self.member.business, "Tail ribbon")
        self.client.post(f"{self.spot_page(self.first)}end/", {"leads_to": ""})
        self.first.refresh_from_db()
        self.assertIsNone(self.first.ended_at)
        move_spot(self.first, other, NOW, by=BY)
        self.assertContains(self.client.get(self.page), first_spot(self.link).link.path)

    def test_an_ended_spot_leads_to_a_web_page_or_the_link(self) -> None:
        spot = make_spot(self.link, "Stall sign", NOW, by=BY)
        for wrong in (
            "javascript:alert(1)",
            "http://kites.example",
            "https://[x",
            "//kites.example",
            "https://a b",
            "cravik.example/K/3479cf",
        ):
            told = self.client.post(f"{self.spot_page(spot)}end/", {"leads_to": wrong}, follow=True)
            self.assertContains(told, "Not ended. ", msg_prefix=wrong)
        self.client.post(f"{self.spot_page(spot)}end/", {"leads_to": "kites.example/stall"})
        self.assertEqual(self.client.get(spot.path)["Location"], "https://kites.example/stall")
        self.client.post(f"{self.spot_page(spot)}end/", {"again": "yes"})
        self.assertEqual(self.client.get(spot.path).status_code, 200)

    def test_a_message_is_ready_in_the_sellers_words_with_the_address_of_its_channel(self) -> None:
        words = Words("{thing} & more", "", "Dear friend,\n{thing}: {price}\n{address}")
        change_wording(self.member.business, "invitation", words, 0, NOW, by=BY)
        path = f"/links/{self.link.pk}/send/email/"
        self.assertRedirects(self.client.get(path), self.page)
        made = self.client.post(path, headers={"accept": "application/json"}).json()
        spot = Spot.objects.get(channel="email")
        text = f'Dear friend,\nA "kite" & <b>tail</b>: €24.00\nhttp://localhost:8000{spot.path}'
        self.assertEqual((made["text"], spot.name), (text, "E-mail"))
        opened = parse_qs(made["opens"].removeprefix("mailto:?"))
        self.assertEqual(opened, {"subject": ['A "kite" & <b>tail</b> & more'], "body": [text.replace("\n", "\r\n")]})
        again = self.client.post(path, follow=True)
        self.assertContains(again, f"http://localhost:8000{spot.path}")
        self.assertEqual(Spot.objects.filter(channel="email").count(), 1)
        sms = self.client.post(path.replace("email", "text"), headers={"accept": "application/json"}).json()
        self.assertTrue(sms["opens"].startswith("sms:?body=A%20%22kite%22"))
        self.assertEqual(self.client.post(path.replace("email", "pigeon")).status_code, 404)
        draft = make_draft(self.member.business, "Box kite")
        refused = self.client.post(f"/links/{draft.pk}/send/copy/", headers={"accept": "application/json"})
        self.assertEqual((refused.status_code, draft.spots.count()), (409, 1))

    def test_a_channel_that_was_ended_opens_again_when_it_is_used(self) -> None:
        path = f"/links/{self.link.pk}/send/copy/"
        self.client.post(path)
        end_spot(Spot.objects.get(channel="copy"), "", NOW, by=BY)
        self.assertRedirects(self.client.get(path), self.page)
        self.client.post(path)
        self.assertIsNone(Spot.objects.get(channel="copy").ended_at)

    def test_a_message_has_only_the_parts_that_are_used(self) -> None:
        page = self.client.get("/setup/messages/short_invitation/")
        self.assertEqual([field.name for field in page.context["form"].visible_fields()], ["body"])
        self.client.post("/setup/messages/short_invitation/", {"body": "Look: {address}", "seen": 0})
        sms = self.client.post(f"/links/{self.link.pk}/send/text/", headers={"accept": "application/json"}).json()
        self.assertTrue(sms["text"].startswith("Look: http://localhost:8000/k/"))

    def test_a_pasted_button_that_says_something_else_than_the_link_is_told(self) -> None:
        page, hand_out = self.spot_page(self.first), f"/links/{self.link.pk}/hand-out/"
        self.assertContains(self.client.get(f"{page}page/?way=newsletter"), "Tell Cravik when you've pasted it")
        noted = self.client.post(f"{page}page/pasted/", {"kind": "drawn"}, follow=True)
        self.assertContains(noted, "and up to date.")
        self.assertNotContains(self.client.get(hand_out), "out of date")
        publish(change_price(Link.objects.get(id=self.link.pk), 2600), NOW, by=BY)
        told = self.client.get(hand_out)
        self.assertContains(told, "The button that you pasted at one spot is out of date.")
        self.assertContains(told, "The button pasted here still says “Pay €24.00 for")
        self.assertContains(self.client.get(page), "it still says “Pay €24.00 for")
        self.assertContains(self.client.post(f"{page}page/pasted/", follow=True), "and up to date.")
        self.assertNotContains(self.client.get(hand_out), "out of date")
        self.client.post(f"{page}page/pasted/", {"gone": "yes"})
        self.assertFalse(PastedButton.objects.exists())

    def test_what_is_pasted_is_what_is_shown_and_is_safe(self) -> None:
        page = f"{self.spot_page(self.first)}page/"
        button = plain_button(pasting_of(self.first, self.link), "text")
        self.assertContains(self.client.get(f"{page}?way=newsletter"), escape(button.html))
        self.assertIn("Pay €24.00 for A &quot;kite&quot; &amp; &lt;b&gt;tail&lt;/b&gt;</a>", button.html)
        self.assertIn(f'href="http://localhost:8000{self.first.path}"', button.html)
        preview = self.client.get(f"{page}plain/text/")
        self.assertContains(preview, button.html)
        self.assertIn(button.style_hashes[0], preview["Content-Security-Policy"])
        self.assertNotIn("unsafe-inline", preview["Content-Security-Policy"])
