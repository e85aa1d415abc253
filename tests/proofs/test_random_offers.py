"""Offers drawn at random can be published, each of them, and are shown to buyers."""

from __future__ import annotations

from hypothesis import HealthCheck, given, settings
from hypothesis.extra.django import TestCase

from cravik.core.documents.offer import write_offer
from cravik.core.pricing.offer import Offer
from cravik.core.tests.offers import offers
from cravik.links.making.documents import import_link
from tests.factories import BROWSER, BY, NOW, make_business
from tests.sampling import count_of


class RandomOffersTest(TestCase):
    @settings(max_examples=count_of(1000, 20), derandomize=True, deadline=None, suppress_health_check=list(HealthCheck))
    @given(offers())
    def test_every_one_is_published_and_shown(self, offer: Offer) -> None:
        document = {"format": "cravik.link/1", "name": "Drawn", "offer": write_offer(offer)}
        link = import_link(make_business(), document, NOW, by=BY, published=True)
        self.assertEqual(link.state, "live")
        self.assertContains(self.client.get(link.path, headers={"user-agent": BROWSER}), 'name="page"')
