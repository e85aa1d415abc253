from __future__ import annotations

import time_machine
from django.test import Client, TestCase

from cravik.core.pricing.money import Money
from cravik.core.statistics.ladder import Ladder
from cravik.links.life import lifecycle
from tests.factories import BROWSER, BY, NOW, MembershipFactory, change_price, make_draft, make_live
from tests.paying import NO_FUNDS, pay_live


class LinksTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory()
        self.client.force_login(self.member.user)

    def test_an_empty_home_teaches_the_next_step(self) -> None:
        self.assertContains(self.client.get("/"), "Make the first link")

    def test_a_row_tells_its_ladder_rate_and_money(self) -> None:
        link = make_live(self.member.business)
        self.client.logout()
        for number in range(3):
            self.client.get(link.path, headers={"user-agent": f"{BROWSER} {number}"})
        pay_live(self.client, link, card_number=NO_FUNDS)
        pay_live(self.client, link)
        self.client.force_login(self.member.user)
        row = self.client.get("/").context["rows"][0]
        self.assertEqual(row.ladder, Ladder(4, 1, 1, 1))
        self.assertEqual((row.money, row.rate.of, row.rate.tells), ([Money(2400, "EUR")], 4, False))

    def test_the_head_tells_today_s_and_this_month_s_money_by_the_seller_s_clock(self) -> None:
        self.assertNotContains(self.client.get("/"), "takings")
        self.member.business.time_zone = "Pacific/Auckland"  # thirteen hours ahead in November
        self.member.business.save()
        link = make_live(self.member.business)
        for number, instant in enumerate(
            ("2026-10-31T10:59", "2026-10-31T11:01", "2026-11-29T10:30", "2026-11-29T11:30")
        ):
            with time_machine.travel(f"{instant}:00+00:00", tick=False):
                pay_live(Client(), link, email=f"b{number}@dunes.example")
        with time_machine.travel("2026-11-29T12:00:00+00:00", tick=False):
            self.client.force_login(self.member.user)
            page = self.client.get("/")
        head = page.context["head"]
        self.assertEqual((head.today, head.month), ((Money(2400, "EUR"),), (Money(7200, "EUR"),)))
        self.assertEqual((head.month_name, len(head.bars)), ("November", 30))
        # The first of November is the first of thirty days, the 29th and the 30th are the last.
        self.assertEqual([number for number, bar in enumerate(head.bars) if bar.height], [0, 28, 29])
        self.assertContains(page, "Today")

    def test_two_currencies_are_never_summed(self) -> None:
        link = make_live(self.member.business)
        pay_live(self.client, link)
        lifecycle.publish(change_price(link, 500, "GBP"), NOW, by=BY)
        pay_live(self.client, link, email="b@dunes.example")
        self.assertEqual(self.client.get("/").context["rows"][0].money, [Money(2400, "EUR"), Money(500, "GBP")])

    def test_links_are_searched_and_filtered_and_the_filter_is_said(self) -> None:
        make_live(self.member.business, "Kite repair")
        make_draft(self.member.business, "Box kite")
        for query, titles in (
            ("", ["Kite repair", "Box kite"]),
            ("state=draft", ["Box kite"]),
            ("q=repair", ["Kite repair"]),
            ("state=nonsense", ["Kite repair", "Box kite"]),
        ):
            with self.subTest(query):
                rows = self.client.get(f"/?{query}").context["rows"]
                self.assertEqual([row.title for row in rows], titles)
        self.assertContains(self.client.get("/?state=ended&q=x"), "No link matches “x” and is ended")

    def test_a_changed_price_is_shown_once_it_is_published_and_that_there_are_changes(self) -> None:
        link = make_live(self.member.business)
        self.assertNotContains(self.client.get("/"), "changes not published")
        change_price(link, 9900)
        home = self.client.get("/")
        self.assertContains(home, "changes not published")
        self.assertEqual(home.context["rows"][0].price, "€24.00")
        bench = self.client.get(f"/links/{link.pk}/").content.decode()
        self.assertLess(bench.index("Publish changes"), bench.index('data-piece="sentence"'))

    def test_fifty_links_ask_the_database_no_more_than_two(self) -> None:
        for number in range(2):
            make_live(self.member.business, f"Kite {number}")
        with self.assertNumQueries(21):  # one reads the versions, the first time
            self.client.get("/")
        for number in range(48):
            make_live(self.member.business, f"More {number}")
        with self.assertNumQueries(21):
            self.client.get("/")
        with self.assertNumQueries(20):
            self.client.get("/")
