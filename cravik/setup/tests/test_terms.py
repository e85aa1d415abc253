"""Terms with versions: written, changed, agreed to, and readable for ever."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from cravik.checkout.models import Checkout
from cravik.orders.models import Order
from cravik.setup.models import Terms, TermsVersion
from cravik.setup.terms import MAX_TERMS, make_terms
from tests.factories import BY, NOW, MembershipFactory, make_draft, make_live
from tests.paying import open_page, pay_live, send


class TermsTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.business = self.member.business
        self.client.force_login(self.member.user)

    def write(self, words: str = "Within **14 days**.", name: str = "terms of sale") -> Terms:
        self.client.post("/setup/terms/new/", {"name": name, "words": words, "seen": "0"})
        return Terms.objects.latest("id")

    def change(self, terms: Terms, words: str, seen: int = 1, name: str = "terms of sale") -> Any:
        return self.client.post(f"/setup/terms/{terms.pk}/", {"name": name, "words": words, "seen": str(seen)})

    def test_each_change_is_a_version_that_stays_readable(self) -> None:
        terms = self.write()
        first = terms.version
        self.change(terms, "Within 30 days.")
        self.assertEqual([each.number for each in terms.versions.all()], [2, 1])
        self.change(terms, "Within 30 days.", seen=2, name="terms of trade")
        self.assertEqual(TermsVersion.objects.count(), 2)
        self.client.logout()
        page = self.client.get(first.path)
        self.assertContains(page, "Within <strong>14 days</strong>.")
        self.assertContains(page, "Version 1 of")
        self.assertEqual(self.client.get("/terms/nothing/").status_code, 404)

    def test_mistakes_and_a_second_tab(self) -> None:
        terms = self.write()
        for sent, sentence in (
            ({"name": "", "words": "x"}, "Give the terms a name"),
            ({"name": "terms of sale", "words": "x"}, "Other terms have that name."),
            ({"name": "y", "words": " "}, "Write the terms"),
            ({"name": "y", "words": "x" * 20_001}, "the most is 20,000"),
        ):
            with self.subTest(sentence):
                answer = self.client.post("/setup/terms/new/", sent | {"seen": "0"})
                self.assertContains(answer, sentence, status_code=400)
        self.change(terms, "First tab")
        stale = self.change(terms, "Second tab")
        self.assertContains(stale, "changed in another tab", status_code=409)
        self.assertContains(stale, "Second tab", status_code=409)
        for number in range(MAX_TERMS):
            answer = self.client.post("/setup/terms/new/", {"name": f"n{number}", "words": "x", "seen": "0"})
        self.assertContains(answer, "the most there can be", status_code=400)

    def test_a_buyer_agrees_to_the_version_on_the_page_and_the_order_keeps_which(self) -> None:
        terms = self.write()
        link = make_live(self.business)
        self.client.logout()
        form = open_page(self.client, link)
        refused = send(self.client, link, {**form, "agree": ""})
        self.assertContains(refused, "Tick this to agree to the terms of sale.", status_code=400)
        self.client.force_login(self.member.user)
        self.change(terms, "Within 30 days.")
        self.assertContains(self.client.get("/setup/terms/"), "1 published link still shows")
        self.client.post("/links/setup/conditions/", {"link": str(link.pk)})
        self.client.logout()
        self.assertEqual(send(self.client, link, form).status_code, 303)  # the page was opened before
        pay_live(self.client, link, email="b@dunes.example", second="yes")
        self.assertEqual([each.agreed_to.number for each in Checkout.objects.order_by("id")], [1, 2])
        self.client.force_login(self.member.user)
        order = Order.objects.earliest("id")
        self.assertContains(self.client.get(order.path), "terms of sale, version 1")

    def test_a_link_may_have_other_terms_or_none(self) -> None:
        self.write()
        draft = make_draft(self.business)
        other = make_terms(self.business, "workshop terms", "Bring a coat.", NOW, by=BY)
        address = f"/links/{draft.pk}/own/conditions/"
        self.client.post(address, {"whose": "own", "chosen": str(other.pk), "seen": "1"})
        self.assertContains(self.client.get(f"/for/rehearsal/{draft.pk}/"), "workshop terms")
        self.assertContains(self.client.get(f"/links/{draft.pk}/"), "workshop terms, version 1")
        self.client.post(address, {"whose": "own", "chosen": "0", "seen": "2"})
        self.assertNotContains(self.client.get(f"/for/rehearsal/{draft.pk}/"), 'name="agree"')

    def test_what_is_archived_is_asked_no_more(self) -> None:
        terms = self.write()
        version = terms.version
        other = self.write(name="other terms")
        self.client.post(f"/setup/terms/{other.pk}/default/")
        self.assertEqual(make_draft(self.business).effective["conditions"]["name"], "other terms")
        self.client.post(f"/setup/terms/{other.pk}/archive/")
        self.assertEqual(make_draft(self.business, "Sled").effective["conditions"], {})
        self.client.post(f"/setup/terms/{terms.pk}/archive/")
        self.assertEqual(self.client.get(version.path).status_code, 200)
        self.assertEqual(self.write().is_default, True)
