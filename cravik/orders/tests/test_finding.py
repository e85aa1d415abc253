"""Orders filtered, sorted, summed and changed together; with forged filters, by two, and pressed twice."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime, timedelta
from typing import Any

from django.test import TestCase
from django.utils import timezone

from cravik.links.places.spots import make_spot
from cravik.mailroom.models import Letter
from cravik.orders.models import Order, Parcel, Stage
from tests.factories import BY, NOW, MembershipFactory, make_live
from tests.links import line, make_link
from tests.paying import address_in, pay_as_it_comes, pay_live

CODES = {"codes": [{"code": "WIND15", "kind": "percent", "percent": "15"}]}


class FindingTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory(business__time_zone="Europe/Dublin")
        business = self.member.business
        self.repair = make_live(business)
        question = {"key": "tail", "kind": "short_text", "label": "Name on the tail"}
        kite = line("kite", "Delta kite", "48.00", ships=True)
        self.kite = make_link(kite, business=business, offer=CODES, questions=[question])
        self.sign = make_spot(self.kite, "Stall sign", NOW, by=BY)
        pay_live(self.client, self.repair, name="Jonas Vetch", email="jonas@harbour.example")
        for name, country, more in (("Maren", "IE", {}), ("Åse", "DE", {"code": "WIND15", "answer.tail": "Blåvær"})):
            typed = {"name": name, "email": f"{country}@dunes.example".lower(), "country": country, **more}
            typed |= address_in(country)
            pay_as_it_comes(self.client, self.kite, **typed)
        Order.objects.filter(buyer_name="Åse").update(spot=self.sign)
        Order.objects.filter(buyer_name="Maren").update(made_at=datetime(2026, 3, 29, 23, 30, tzinfo=UTC))
        self.client.force_login(self.member.user)

    def found(self, **sought: object) -> list[str]:
        return [each.buyer_name for each in self.client.get("/orders/", sought).context["page"].object_list]

    def do(self, act: str, **more: Any) -> Any:
        return self.client.post("/orders/many/", {"many": act} | more, follow=True)

    def test_each_filter_keeps_what_it_says_and_says_so(self) -> None:
        Order.objects.filter(buyer_name="Jonas Vetch").update(is_refunded=True)
        sizes = {"choices": [{"name": "Span", "options": [{"name": "1.2 m"}, {"name": "2.4 m"}]}]}
        sized = make_link(line("sized", "Sled", "90.00", **sizes), business=self.member.business)
        pay_as_it_comes(self.client, sized, name="Ines", email="ines@dunes.example", **{"option.sized.1": "2.4 m"})
        free = make_link(line("free", "Plan", "0"), business=self.member.business)
        pay_as_it_comes(self.client, free, name="Fred", email="fred@dunes.example")
        today = timezone.now().date()
        for sought, names, words in (
            ({"state": "to-do"}, {"Maren", "Åse"}, "is to do"),
            ({"state": "refunded"}, {"Jonas Vetch"}, "is refunded"),
            ({"state": "done"}, {"Ines", "Fred"}, "is done"),
            ({"since": "2026-03-30", "until": "2026-03-30"}, {"Maren"}, "was made on 30 Mar 2026 or later"),
            ({"until": "2026-03-29"}, set(), "was made on 29 Mar 2026 or earlier"),
            ({"since": today + timedelta(days=2)}, set(), "or later"),
            ({"link": self.kite.pk}, {"Maren", "Åse"}, f"came by “{self.kite.name}”"),
            ({"spot": self.sign.pk}, {"Åse"}, "came by the spot “Stall sign”"),
            ({"code": "WIND15"}, {"Åse"}, "used the discount code “WIND15”"),
            ({"place": "DE"}, {"Åse"}, "has a buyer in Germany"),
            ({"way": "card"}, {"Jonas Vetch", "Maren", "Åse", "Ines"}, "was paid by card"),
            ({"way": "nothing"}, {"Fred"}, "had nothing to pay"),
            ({"answer": "blåvær"}, {"Åse"}, "has an answer with “blåvær”"),
            ({"answer": "Blåv"}, {"Åse"}, "has an answer with “Blåv”"),
            ({"option": "2.4"}, {"Ines"}, "has an option with “2.4”"),
            ({"least": "40.80", "most": "48"}, {"Maren", "Åse"}, "brought €40.80 or more and brought €48.00 or less"),
            ({"least": "0,01", "most": "24,00"}, {"Jonas Vetch"}, "brought €0.01 or more"),
            ({"most": "0"}, {"Fred"}, "brought €0.00 or less"),
            ({"least": "40.81", "code": "WIND15"}, set(), "brought €40.81 or more"),
            ({"q": "Blåvær"}, {"Åse"}, "matches “Blåvær”"),
            ({"q": "åse", "place": "IE"}, set(), "matches “åse” and has a buyer in Ireland"),
        ):
            with self.subTest(sought):
                self.assertEqual(set(self.found(**sought)), names)
                text = " ".join(self.client.get("/orders/", sought).content.decode().split())
                self.assertIn(words, text)

    def test_a_forged_filter_hides_nothing_and_nothing_of_others_is_found(self) -> None:
        forged = (
            "state=x",
            "since=2026-02-30",
            "link=-1",
            "spot=1e9",
            "place=<b",
            "sort=password",
            "page=9999",
            "way=barter",
        )
        for query in (*forged, "way=barter", "link=" + "9" * 90):
            self.assertEqual(len(self.client.get(f"/orders/?{query}").context["page"].object_list), 3, query)
        self.client.force_login(MembershipFactory().user)
        self.assertNotContains(self.client.get("/orders/", {"link": self.kite.pk, "spot": self.sign.pk}), "Stall sign")
        self.assertContains(self.client.get("/orders/", {"link": self.kite.pk}), "a link that is not there")

    def test_what_is_no_amount_hides_nothing_and_is_told(self) -> None:
        answer = self.client.get("/orders/", {"least": "a lot", "most": "1000"})
        self.assertContains(answer, "“a lot” is not an amount in EUR, so nothing was filtered by it.")
        self.assertContains(answer, 'value="a lot"')
        self.assertEqual(len(answer.context["page"].object_list), 3)

    def test_it_is_sorted_either_way_and_summed_by_currency(self) -> None:
        pay_live(self.client, make_link(line(amount="30.00"), business=self.member.business, offer={"currency": "GBP"}))
        firsts = {"amount": "Maren", "-number": "Jonas Vetch", "buyer": "Jonas Vetch"}
        for sort, first in firsts.items():
            self.assertEqual(self.found(sort=sort)[0], first, sort)
        sums = [each.major for each in self.client.get("/orders/").context["sums"]]
        self.assertEqual(sums, ["112.80", "30.00"])  # 24.00, 48.00 and 40.80 euros; pounds
        exported = self.client.get("/orders/orders.csv", {"state": "to-do", "sort": "amount"}).getvalue().decode()
        self.assertEqual([row.split(",")[4] for row in exported.splitlines()[1:]], ["Maren", "Åse"])

    def test_several_are_marked_as_sent_once_and_what_is_not_to_do_is_left(self) -> None:
        ids = list(Order.objects.values_list("id", flat=True))
        look = self.do("sent", order=ids)
        self.assertContains(look, "1 of those you ticked is not to do, and stays as it is.")
        chosen = look.context["ids"]
        sure = {"order": chosen, "sure": "yes", "press": look.context["press"], "tell": "on"}
        self.assertContains(self.do("sent", **sure), "2 orders marked as sent.")
        self.assertContains(self.do("sent", **sure), "0 orders marked as sent.")
        self.assertEqual((Parcel.objects.count(), Letter.objects.filter(kind="on_its_way").count()), (2, 2))
        self.assertEqual(self.found(state="sent"), ["Åse", "Maren"])
        self.do("to-do", order=chosen, sure="yes")
        self.assertEqual((Parcel.objects.count(), self.found(state="sent")), (0, []))

    def test_all_that_were_found_are_meant_and_the_list_comes_back_as_it_was(self) -> None:
        answer = self.do("done", all="yes", sought="state=to-do&sort=buyer", sure="yes")
        self.assertEqual(answer.redirect_chain[-1][0], "/orders/?state=to-do&sort=buyer")
        self.assertFalse(Order.objects.exclude(stage=Stage.DONE).exists())

    def test_nothing_is_done_of_what_was_not_chosen_or_is_another_s(self) -> None:
        order = Order.objects.filter(stage=Stage.TO_DO).latest("id")
        self.assertContains(self.do("sent"), "Tick the orders first.")
        self.assertContains(self.do("burn", order=order.pk), "Choose what to do with them.")
        self.client.force_login(MembershipFactory().user)
        for more in ({"order": order.pk}, {"all": "yes", "sought": f"link={self.kite.pk}"}):
            self.assertContains(self.do("sent", sure="yes", press="x", **more), "Tick the orders first.")
        order.refresh_from_db()
        self.assertEqual(order.state, "to do")

    def test_what_waits_is_said_at_the_head(self) -> None:
        Order.objects.filter(buyer_name="Maren").update(letters_due=True, letters_tries=3)
        page = self.client.get("/orders/")
        self.assertContains(page, "2 to do")
        self.assertContains(page, "letters of 1 order could not be written")

    def test_one_goes_on_in_the_list_that_one_came_from(self) -> None:
        first, maren, last = Order.objects.order_by("number")
        for query, order, before, after in (
            ("", maren, last, first),
            ("state=to-do", maren, last, None),
            ("state=done", maren, None, first),  # it left the list, and one goes on where it stood
            ("sort=-number", maren, first, last),
            ("sort=amount", maren, None, last),
            ("sort=amount&state=done", maren, None, None),
        ):
            with self.subTest(query):
                context = self.client.get(f"{order.path}?{query}").context
                paths = [f"{each.path}?{query}".rstrip("?") if each else "" for each in (before, after)]
                self.assertEqual([context["newer"], context["older"]], paths)
        done = self.client.post(f"/orders/{maren.pk}/stage/?state=to-do", {"stage": "done"})
        self.assertEqual(done["Location"], f"{maren.path}?state=to-do")

    def test_what_was_sent_stands_in_the_files(self) -> None:
        maren = Order.objects.get(buyer_name="Maren")
        sent = {"parcel-carrier": "=Dune", "parcel-tracking": "DP 1", "parcel-press": "p", "parcel-seen": "0"}
        self.client.post(f"/orders/{maren.pk}/send/", sent)
        rows = list(
            csv.DictReader(io.StringIO(self.client.get("/orders/orders.csv?q=maren").getvalue().decode("utf-8-sig")))
        )
        self.assertEqual([rows[0][name] for name in ("state", "carrier", "tracking")], ["sent", "'=Dune", "DP 1"])
        self.assertEqual(rows[0]["ordered_at"], "2026-03-30T00:30:00+01:00")
