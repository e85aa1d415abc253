"""Ids beyond what a database holds are no addresses, wherever they stand."""

from __future__ import annotations

from django.db import transaction
from django.test import TestCase
from django.urls import NoReverseMatch, reverse

from tests.addresses import named_addresses
from tests.factories import MembershipFactory, make_item, make_live

TOO_BIG = ("9" * 19, str(2**63), str(2**64 + 1), "9" * 5000)


class IdsTest(TestCase):
    def test_none_is_answered_with_a_fault(self) -> None:
        member = MembershipFactory()
        self.client.force_login(member.user)
        link = make_live(member.business)
        there = {"link_id": link.pk, "spot_id": link.spots.get().pk, "item_id": make_item(member.business).pk}
        tried = 0
        for name, arguments in named_addresses().items():
            for wrong in arguments:
                # An address with a mark in the place of the id, so that what nobody could write is asked for as well.
                try:
                    path = reverse(name, kwargs={each: there.get(each, 1) for each in arguments} | {wrong: 10**17})
                except NoReverseMatch:
                    continue
                for number in TOO_BIG:
                    address = path.replace(str(10**17), number)
                    for ask in (self.client.get, self.client.post):
                        with self.subTest(address[:80]), transaction.atomic():
                            self.assertLess(ask(address, {"page": number}).status_code, 500)
                            tried += 1
        self.assertGreater(tried, 400)
