from __future__ import annotations

import re
from dataclasses import asdict
from datetime import timedelta
from pathlib import Path

from django.core import signing
from django.test import TestCase

from cravik.checkout.page_token import TokenRefused, live_token, parse_token
from cravik.checkout.pages.notices import NOTICES
from cravik.checkout.pages.page import offered_of
from cravik.checkout.parts.card import CardPart
from cravik.checkout.rehearsing import opened_draft
from cravik.journal.models import Visit
from cravik.links.life import lifecycle
from cravik.ui.timings import price_promised
from tests.factories import BROWSER, BY, NOW, MembershipFactory, make_draft, make_live


class PageTest(TestCase):
    def test_it_says_who_asks_and_for_how_much_in_words(self) -> None:
        link = make_live(minor=123456)
        page = self.client.get(link.path, headers={"user-agent": BROWSER})
        self.assertContains(page, link.business.name)
        self.assertContains(page, "€1,234.56")
        self.assertContains(page, "Pay €1,234.56")

    def test_figures_are_in_the_visitors_format(self) -> None:
        link = make_live(minor=123456)
        for language, figures in (
            ("de-AT,de;q=0.9", "€\u00a01.234,56"),
            ("fr", "1\u202f234,56\u00a0€"),
            ("xx,*", "€1,234.56"),
        ):
            with self.subTest(language):
                self.assertContains(self.client.get(link.path, headers={"accept-language": language}), figures)

    def test_no_cookie_is_set_and_nothing_comes_from_elsewhere(self) -> None:
        page = self.client.get(make_live().path, headers={"user-agent": BROWSER})
        self.assertFalse(page.cookies)
        fetched = re.sub(r'<link rel="canonical"[^>]*>', "", page.content.decode())
        self.assertNotRegex(fetched, r'(src|href)="(https?:)?//')

    def test_the_policy_allows_no_inline_code(self) -> None:
        policy = self.client.get(make_live().path)["Content-Security-Policy"]
        self.assertNotIn("unsafe", policy)
        self.assertIn("frame-ancestors 'none'", policy)

    def test_a_link_that_takes_no_payments_says_so_kindly(self) -> None:
        paused, ended, draft = make_live(purpose="Paused"), make_live(purpose="Ended"), make_draft()
        lifecycle.pause(paused, NOW, by=BY)
        lifecycle.end(ended, NOW, by=BY)
        self.assertContains(self.client.get(paused.path), "Back soon", status_code=200)
        self.assertContains(self.client.get(ended.path), "This has ended", status_code=410)
        self.assertContains(self.client.get(draft.path), "There is nothing here", status_code=404)
        self.assertEqual(self.client.get("/for/never-made/").status_code, 404)
        self.assertEqual(Visit.objects.count(), 0)

    def test_it_asks_the_database_at_most_eight_times(self) -> None:
        path = make_live().path
        self.client.get(path, headers={"user-agent": BROWSER})
        with self.assertNumQueries(2):  # the page; the visit under way
            self.client.get(path, headers={"user-agent": BROWSER})


class RehearsalTest(TestCase):
    def test_each_notice_at_its_head_has_its_words(self) -> None:
        folder = Path(__file__).parent.parent / "templates" / "checkout" / "notices"
        self.assertEqual(set(NOTICES), {file.stem for file in folder.glob("[!_]*.html")})

    def test_only_its_seller_may_rehearse_a_draft_and_frame_it(self) -> None:
        member = MembershipFactory()
        link = make_draft(member.business)
        self.assertEqual(self.client.get(f"/for/rehearsal/{link.pk}/").status_code, 302)
        self.client.force_login(member.user)
        page = self.client.get(f"/for/rehearsal/{link.pk}/")
        self.assertContains(page, "nothing is recorded")
        self.assertIn("frame-ancestors 'self'", page["Content-Security-Policy"])
        self.assertEqual(page["X-Frame-Options"], "SAMEORIGIN")


class PageTokenTest(TestCase):
    def test_an_altered_note_is_refused(self) -> None:
        token = live_token(1, 2, 4, 3, NOW)
        self.assertEqual(parse_token(token.signed()), token)
        for altered in (
            "",
            "x",
            token.signed()[:-1],
            "a" * 10**5,
            signing.dumps({"link_id": 1}, salt="cravik.checkout.page"),
        ):
            with self.assertRaises(TokenRefused):
                parse_token(altered)

    def test_a_note_of_before_its_fields_were_renamed_is_read(self) -> None:
        """A page that was opened before an upgrade still pays after it."""
        token = live_token(7, 5, 70, None, NOW)
        fields = asdict(token)
        fields["edition_id"] = fields.pop("version_id")
        self.assertEqual(parse_token(signing.dumps(fields, salt="cravik.checkout.page")), token)

    def test_the_price_is_promised_for_as_long_as_is_set(self) -> None:
        token = live_token(1, 2, 4, None, NOW)
        promised = price_promised()
        self.assertEqual(
            [token.holds(NOW + promised), token.holds(NOW + promised + timedelta(seconds=1))], [True, False]
        )

    def test_shown_again_it_is_the_same_checkout_and_another_press(self) -> None:
        token = live_token(1, 2, 4, None, NOW)
        again = token.shown_again()
        self.assertEqual(again.reference, token.reference)
        self.assertNotEqual(again.nonce, token.nonce)


class CardPartTest(TestCase):
    def form(self, **typed: str) -> CardPart:
        opened = opened_draft(make_draft())
        assert opened.version
        return CardPart(offered_of(opened, opened.version, opened.version.offer, "en"), typed)

    def test_cards_are_read_as_people_write_them(self) -> None:
        cases = [
            ("9000 0000 0000 0019", "9/31", "123"),
            ("9000-0000-0000-0019", "09 / 2031", " 123 "),
            ("９０００0000 00000019", "0931", "1234"),
        ]
        for number, expiry, code in cases:
            form = self.form(card_number=number, expiry=expiry, security_code=code)
            self.assertTrue(form.is_valid(), form.errors)
            self.assertEqual(
                (form.cleaned_data["card_number"], form.cleaned_data["expiry"]), ("9000000000000019", (9, 2031))
            )

    def test_mistyped_cards_are_told_what_is_wrong(self) -> None:
        form = self.form(card_number="9000000000000018", expiry="13/31", security_code="12a")
        self.assertIn("check digit", str(form.errors["card_number"]))
        self.assertIn("such as 09/31", str(form.errors["expiry"]))
        self.assertIn("3 or 4 digits", str(form.errors["security_code"]))
