from __future__ import annotations

from datetime import timedelta
from typing import Any
from unittest import mock

from django.test import Client, TestCase
from django.urls import reverse
from django.utils import timezone

from cravik.checkout.waiting_views import MAX_LEFT
from cravik.links.life import lifecycle
from cravik.links.models import Link, Waiting
from cravik.links.waiting import waiters as waiting
from cravik.links.waiting.tasks import write_to_waiting
from cravik.mailroom.models import Letter
from tests.factories import BY, NOW, make_business, make_draft, make_live
from tests.links import make_link
from tests.paying import filled_in


class WaitingTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.seller = Client()
        self.seller.force_login(self.business.members.get())
        self.link = make_live(self.business)

    def leave(self, email: str, link: Link | None = None, *, confirmed: bool = True) -> Any:
        answer = self.client.post(f"{(link or self.link).path}wait/", {"email": email}, follow=True)
        for row in Waiting.objects.filter(confirmed_at=None) if confirmed else ():
            self.assertContains(self.client.post(f"/for/visit/hear/{row.key}/"), "You will hear of it")
        Letter.objects.filter(kind="confirm_waiting").delete()
        return answer

    def test_each_state_has_its_own_page_with_whom_to_ask_and_a_way_to_hear_of_it(self) -> None:
        soon = (timezone.now() + timedelta(hours=30)).isoformat()
        opening = make_link(business=self.business, limits={"opens_at": soon})
        counted = make_link(business=self.business, limits={"orders": 1})
        paused, ended, over, held = (make_live(self.business, name) for name in ("Box", "Sled", "Delta", "Tail"))
        lifecycle.pause(paused, NOW, by=BY)
        lifecycle.end(ended, NOW, by=BY)
        Link.objects.filter(id=over.pk).update(state="ended", ended_why="day")
        Link.objects.filter(id=counted.pk).update(state="ended", ended_why="count")
        cases = {
            opening: ("Not open yet", "Hear when it opens", 200),
            paused: ("Back soon", "Hear when it is back", 200),
            ended: ("ended it", "Hear when it is back", 410),
            over: ("a day that has passed", "Hear when it is back", 410),
            counted: ("All taken", "Hear when it is back", 410),
        }
        for link, (words, offered, status) in cases.items():
            with self.subTest(words):
                page = self.client.get(link.path)
                self.assertContains(page, words, status_code=status)
                self.assertContains(page, offered, status_code=status)
                self.assertContains(page, "mailto:hello@dunes.example", status_code=status)
                self.assertContains(self.leave("maren@dunes.example", link), "Check your e-mail.", status_code=status)
        self.assertContains(self.client.get(opening.path), "data-count-down=")
        self.assertEqual(Waiting.objects.count(), len(cases))
        self.assertEqual(held.waiting_count, 0)

    def test_all_are_written_to_in_one_step_each_once_and_forgotten(self) -> None:
        lifecycle.pause(self.link, NOW, by=BY)
        for email in ("maren@dunes.example", "MAREN@dunes.example", "odd@dunes.example"):
            self.leave(email)
        self.assertContains(self.seller.get("/"), "2 waiting")
        place = reverse("links:waiting", args=[self.link.pk])
        self.assertContains(self.seller.get(place), "be bought just now")
        lifecycle.resume(self.link, NOW, by=BY)
        page = self.seller.get(place)
        self.assertNotContains(page, "be bought just now")
        self.assertContains(page, "Kite repair can be bought now")
        self.assertContains(self.seller.post(place, follow=True), "2 letters are on the way")
        self.assertContains(self.seller.post(place, follow=True), "Nobody")
        write_to_waiting.call()
        letters = list(Letter.objects.filter(kind="can_be_bought").order_by("id"))
        self.assertEqual([letter.to_address for letter in letters], ["maren@dunes.example", "odd@dunes.example"])
        self.assertIn(self.link.path, letters[0].text)
        self.assertEqual(Waiting.objects.count(), 0)

    def test_what_was_cut_off_between_writing_and_forgetting_writes_to_nobody_twice(self) -> None:
        lifecycle.pause(self.link, NOW, by=BY)
        self.leave("maren@dunes.example")
        waiting.write_to_all(self.link, NOW, by=BY)
        rows = list(Waiting.objects.select_related("link__business"))
        waiting._write(self.link, rows, NOW)
        waiting._write(self.link, rows, NOW)  # another worker had read the same rows
        self.assertEqual(Letter.objects.count(), 1)

    def test_a_link_whose_letter_cannot_be_written_holds_up_no_other(self) -> None:
        other = make_live(self.business, "Other")
        for link in (self.link, other):
            lifecycle.pause(link, NOW, by=BY)
            self.leave("maren@dunes.example", link)
            waiting.write_to_all(link, NOW, by=BY)
        original = waiting.letter_to_waiting

        def broken(link: Link) -> Any:
            if link.pk == self.link.pk:
                raise KeyError("thing")
            return original(link)

        with mock.patch("cravik.links.waiting.waiters.letter_to_waiting", broken), self.assertLogs("cravik.letters"):
            self.assertEqual(waiting.write_due(NOW), 1)
        self.assertEqual(waiting.write_due(NOW), 1)
        self.assertEqual((Letter.objects.count(), Waiting.objects.count()), (2, 0))

    def test_what_is_no_address_is_told_there_and_too_many_from_one_place_are_not_noted(self) -> None:
        lifecycle.pause(self.link, NOW, by=BY)
        for typed in ("", "maren", "a@b", "a@b.example\nBcc: x@y.example", f"{'x' * 250}@b.example"):
            with self.subTest(typed[:20]):
                answer = self.leave(typed)
                self.assertEqual(answer.status_code, 400)
                self.assertContains(answer, "wait-error", status_code=400)
        for number in range(MAX_LEFT):
            self.leave(f"b{number}@dunes.example", confirmed=False)
        self.assertContains(self.leave("late@dunes.example"), "No more addresses can be taken", status_code=400)
        self.assertEqual(Waiting.objects.count(), MAX_LEFT)

    def test_where_it_can_be_bought_meanwhile_the_page_itself_is_the_answer(self) -> None:
        self.assertContains(self.leave("maren@dunes.example"), "Pay €24.00")
        self.assertEqual(Waiting.objects.count(), 0)
        self.assertEqual(self.leave("maren@dunes.example", make_draft(self.business)).status_code, 404)

    def test_a_rehearsal_of_what_is_not_open_says_so_and_notes_nobody(self) -> None:
        soon = (timezone.now() + timedelta(hours=30)).isoformat()
        link = make_link(business=self.business, offer={"window": {"opens_at": soon}}, published=False)
        page = self.seller.get(f"/for/rehearsal/{link.pk}/")
        answer = self.seller.post(f"/for/rehearsal/{link.pk}/pay/", filled_in(page))
        self.assertContains(answer, "Not open yet", status_code=409)
        self.assertNotContains(answer, "Tell me", status_code=409)

    def test_an_address_counts_once_its_owner_said_so_from_the_letter(self) -> None:
        lifecycle.pause(self.link, NOW, by=BY)
        page = self.client.post(f"{self.link.path}wait/", {"email": "maren@dunes.example"}, follow=True)
        self.assertContains(page, "Check your e-mail.")
        letter, row = Letter.objects.get(), Waiting.objects.get()
        self.assertEqual((letter.kind, letter.to_address), ("confirm_waiting", "maren@dunes.example"))
        address = f"/for/visit/hear/{row.key}/"
        self.assertIn(address, letter.text)
        self.assertContains(self.client.get(address), "Yes, tell me")
        self.assertEqual((self.link.waiting_count, waiting.write_to_all(self.link, NOW, by=BY)), (0, 0))
        self.assertNotContains(self.seller.get("/"), "1 waiting")
        for _ in range(2):
            self.assertContains(self.client.post(address), "You will hear of it")
        self.assertEqual((self.link.waiting_count, waiting.write_to_all(self.link, NOW, by=BY)), (1, 1))
        self.assertEqual(self.client.get("/for/visit/hear/nothing/").status_code, 404)

    def test_nobody_is_written_to_again_and_again_and_silence_is_forgotten(self) -> None:
        lifecycle.pause(self.link, NOW, by=BY)
        for link in (self.link, *(make_live(self.business, f"Kite {number}") for number in range(5))):
            lifecycle.pause(link, NOW, by=BY)
            self.client.post(f"{link.path}wait/", {"email": "Maren@dunes.example"})
        self.assertEqual(Letter.objects.count(), 3, "three a day, whoever asks")
        self.assertEqual(waiting.forget_unconfirmed(timezone.now() + timedelta(days=2)), 0)
        self.assertEqual(waiting.forget_unconfirmed(timezone.now() + timedelta(days=4)), 6)

    def test_a_seller_sees_only_their_own_and_can_forget_one(self) -> None:
        lifecycle.pause(self.link, NOW, by=BY)
        self.leave("maren@dunes.example")
        row = Waiting.objects.get()
        place = reverse("links:waiting", args=[self.link.pk])
        stranger = Client()
        stranger.force_login(make_business().members.get())
        self.assertEqual(stranger.get(place).status_code, 404)
        self.assertEqual(stranger.post(place, {"forget": row.pk}).status_code, 404)
        self.seller.post(place, {"forget": str(row.pk)})
        self.assertEqual(Waiting.objects.count(), 0)
