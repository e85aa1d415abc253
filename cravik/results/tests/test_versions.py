from __future__ import annotations

from datetime import timedelta

from django.test import Client, TestCase
from django.urls import reverse
from django.utils import timezone

from cravik.links.life import lifecycle
from cravik.links.life.versions import unpublished_changes
from cravik.links.models import Link
from cravik.people.models import User
from cravik.results.versions import versions_of
from cravik.setup.terms import make_terms
from tests.factories import BY, NOW, change_price, make_business, make_live
from tests.paying import pay_live


class VersionsTest(TestCase):
    def setUp(self) -> None:
        self.business = make_business()
        self.seller = User.objects.get()
        self.client.force_login(self.seller)
        self.link = make_live(self.business)

    def fresh(self) -> Link:
        return Link.objects.select_related("version", "business").get(id=self.link.pk)

    def test_each_says_when_who_what_it_changed_and_what_it_earned(self) -> None:
        pay_live(Client(), self.link)
        change_price(self.fresh(), 2600)
        self.assertEqual(unpublished_changes(self.fresh()), ("€24.00 → €26.00",))
        answer = self.client.post(reverse("links:publish", args=[self.link.pk]), follow=True)
        self.assertContains(answer, "Changed: €24.00 → €26.00.")
        second, first = versions_of(self.fresh(), timezone.now())
        self.assertEqual((second.changes, first.changes), (("€24.00 → €26.00",), ()))
        self.assertEqual((second.orders, first.orders, [str(sum_.major) for sum_ in first.money]), (0, 1, ["24.00"]))
        self.assertEqual(
            [(each.visits.ladder.opened, each.visits.ladder.paid) for each in (second, first)], [(0, 0), (1, 1)]
        )
        self.assertEqual((second.version.published_by, first.until), (self.seller, second.version.published_at))
        page = self.client.get(reverse("results:versions", args=[self.link.pk]))
        self.assertContains(page, "Published by Orla Windle.")
        self.assertContains(page, "€24.00 → €26.00")

    def test_going_back_is_a_draft_that_can_be_undone_and_keeps_name_and_labels(self) -> None:
        change_price(self.fresh(), 2600)
        lifecycle.publish(self.fresh(), NOW, by=BY)
        back = self.client.post(reverse("results:versions", args=[self.link.pk]), {"number": "1"})
        self.assertRedirects(back, reverse("links:bench", args=[self.link.pk]))
        link = self.fresh()
        self.assertEqual(unpublished_changes(link), ("€26.00 → €24.00",))
        self.assertEqual(link.draft["name"], link.name)
        bench = self.client.get(reverse("links:bench", args=[link.pk]))
        self.assertContains(bench, "Undo: Going back to version 1")
        lifecycle.publish(link, NOW + timedelta(hours=1), by=BY)
        third, second, first = versions_of(self.fresh(), NOW)
        self.assertEqual(third.version.effective, first.version.effective)
        self.assertNotEqual(third.version.effective, second.version.effective)

    def test_a_version_that_is_not_there_and_anothers_link_are_refused(self) -> None:
        for number in ("9", "-1", "x", "", "9" * 30):
            back = self.client.post(reverse("results:versions", args=[self.link.pk]), {"number": number}, follow=True)
            self.assertContains(back, "The link has no such version.")
        foreign = make_live(purpose="Not yours")
        self.assertEqual(self.client.get(reverse("results:versions", args=[foreign.pk])).status_code, 404)

    def test_what_reaches_it_from_setup_is_told_with_its_cause(self) -> None:
        make_terms(self.business, "Workshop terms", "Wind and weather.", NOW, by=BY)
        self.assertEqual(unpublished_changes(self.fresh()), ("terms: none → “Workshop terms”",))
        self.client.post(reverse("links:republish", args=["conditions"]), {"link": [self.link.pk]})
        page = self.client.get(reverse("results:versions", args=[self.link.pk]))
        self.assertContains(page, "From Setup, by Orla Windle.")
        self.assertContains(page, "terms: none → “Workshop terms”")

    def test_many_versions_are_told_page_by_page_each_against_the_one_before(self) -> None:
        for minor in range(2500, 2530):
            change_price(self.fresh(), minor)
            lifecycle.publish(self.fresh(), NOW, by=BY)
        whole = versions_of(self.fresh(), NOW, 0, 100)
        self.assertEqual(len(whole), 31)
        self.assertEqual(versions_of(self.fresh(), NOW) + versions_of(self.fresh(), NOW, 25), whole)
        page = self.client.get(reverse("results:versions", args=[self.link.pk]), {"page": "2"})
        self.assertContains(page, "First version.")
        self.assertContains(page, "Version 6")
