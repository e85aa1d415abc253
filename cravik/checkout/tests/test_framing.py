"""Buyers' pages on pages of others."""

from __future__ import annotations

from django.test import TestCase, override_settings

from cravik.core.link.sites import LOCAL
from cravik.links.life.lifecycle import pause
from cravik.links.places.sites import MAX_SITES, TooManySites, allow_site, forbid_site, may_open, named_sites
from cravik.links.places.spots import first_spot
from cravik.orders.models import Order
from cravik.payments.ways.card import bank_address
from tests.factories import BROWSER, BY, NOW, make_live
from tests.paying import filled_in

ON_PAGE = "?in=page"


class FramingTest(TestCase):
    def setUp(self) -> None:
        self.link = make_live()
        self.spot = first_spot(self.link)

    def sources(self, path: str, data: dict[str, str] | None = None) -> list[str]:
        """Who may frame what is answered there."""
        method = self.client.get if data is None else self.client.post
        self.answer = method(path, data, headers={"user-agent": BROWSER})
        policy = dict(each.strip().partition(" ")[::2] for each in self.answer["Content-Security-Policy"].split(";"))
        has_header = "X-Frame-Options" in self.answer
        self.assertIs(has_header, policy["frame-ancestors"] in ("'none'", "'self'"), path)
        return policy["frame-ancestors"].split()

    def test_who_may_frame_a_page_is_said_by_its_link(self) -> None:
        other = make_live(self.link.business)
        allow_site(self.link.business, None, "kites.example", NOW, subdomains=False, by=BY)
        allow_site(self.link.business, self.link, "reef.example", NOW, subdomains=True, by=BY)
        for path in (self.link.path, self.spot.path):
            sources = self.sources(path + ON_PAGE)
            self.assertIn("www.kites.example:*", sources)
            self.assertIn("*.reef.example:*", sources)
            self.assertNotIn("file:", sources)
            self.assertEqual(self.sources(path), ["'none'"], "only where its address says that it stands on a page")
        self.assertNotIn("reef.example:*", self.sources(other.path + ON_PAGE))
        pause(self.link, NOW, by=BY)
        self.assertIn("reef.example:*", self.sources(self.link.path + ON_PAGE))
        self.assertContains(self.answer, f"/wait/{ON_PAGE}")

    def test_as_long_as_none_is_named_the_own_machine_may(self) -> None:
        self.assertIn("http://localhost:*", self.sources(self.link.path + ON_PAGE))
        allow_site(self.link.business, None, "kites.example", NOW, subdomains=False, by=BY)
        self.assertNotIn("http://localhost:*", self.sources(self.link.path + ON_PAGE))
        allow_site(self.link.business, None, LOCAL, NOW, subdomains=False, by=BY)
        self.assertIn("http://localhost:*", self.sources(self.link.path + ON_PAGE))

    def test_the_sample_of_others_pages_always_may_while_it_runs(self) -> None:
        allow_site(self.link.business, None, "kites.example", NOW, subdomains=False, by=BY)
        with override_settings(CRAVIK_OUTSIDE_ADDRESS="http://localhost:8001"):
            self.assertIn("http://localhost:8001", self.sources(self.link.path + ON_PAGE))
            self.assertTrue(may_open("http://localhost:8001", self.link.business_id, self.link.pk, "http"))
        self.assertFalse(may_open("http://localhost:8001", self.link.business_id, self.link.pk, "http"))

    def test_every_step_of_paying_stays_there(self) -> None:
        page = self.client.get(self.spot.path + ON_PAGE, headers={"user-agent": BROWSER})
        self.assertContains(page, '<base target="_blank">')
        fields, pays = filled_in(page), f"{self.link.path}pay/{ON_PAGE}"
        self.assertContains(page, f'action="{pays}"')
        self.assertIn("http://localhost:*", self.sources(pays, fields | {"email": "none"}))
        self.assertContains(self.answer, f'action="{pays}"', status_code=400)
        self.assertIn("http://localhost:*", self.sources(pays, fields | {"card_number": "9000000000001017"}))
        declined = self.answer["Location"]
        self.assertIn("http://localhost:*", self.sources(declined))
        self.assertContains(self.answer, "Nothing was charged")
        self.sources(pays, filled_in(self.answer))
        self.assertIn("http://localhost:*", self.sources(self.answer["Location"]))
        order = Order.objects.get()
        self.assertContains(self.answer, f'data-paid="{order.number}"')
        self.assertEqual(order.checkout.line.spot_id, self.spot.pk)

    def test_a_bank_gets_the_whole_window_and_the_page_waits(self) -> None:
        page = self.client.get(self.spot.path + ON_PAGE, headers={"user-agent": BROWSER})
        fields = filled_in(page) | {"card_number": "9000000000003013"}
        self.sources(f"{self.link.path}pay/{ON_PAGE}", fields)
        waits = self.answer["Location"]
        self.assertIn("http://localhost:*", self.sources(waits))
        self.assertContains(self.answer, "Your bank has a question")
        bank = bank_address(self.answer.context["attempt"])
        self.assertNotIn(ON_PAGE[1:], bank)
        back = self.client.post(bank, {"answer": "yes"})["Location"]
        self.assertNotIn(ON_PAGE[1:], back)
        self.assertContains(self.client.get(back), "Thank you")
        self.sources(waits)
        self.assertContains(self.answer, "data-paid=")

    def test_so_many_sites_can_be_named(self) -> None:
        for number in range(MAX_SITES):
            allow_site(self.link.business, self.link, f"{number}.example", NOW, subdomains=False, by=BY)
        with self.assertRaisesMessage(TooManySites, f"{MAX_SITES} sites"):
            allow_site(self.link.business, self.link, "more.example", NOW, subdomains=False, by=BY)
        allow_site(self.link.business, self.link, "0.example", NOW, subdomains=True, by=BY)
        self.assertTrue(named_sites(self.link.business, self.link)[0].subdomains)
        forbid_site(self.link.business, self.link, "0.example", NOW, by=BY)
        self.assertEqual(len(named_sites(self.link.business, self.link)), MAX_SITES - 1)
