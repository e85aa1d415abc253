"""The handle: chosen, paid to with a sum or without, in more than one currency."""

from __future__ import annotations

import zxingcpp
from django.test import TestCase

from cravik.links.life import archiving, lifecycle
from cravik.links.models import Link, Spot
from cravik.links.places.spots import move_spot
from cravik.orders.models import Order
from cravik.share.codes.designs import design_of_spot
from cravik.share.codes.files import raster
from cravik.share.handles import free_handles, name_handle, take_currency
from cravik.share.models import Handle
from tests.factories import BROWSER, BY, NOW, MembershipFactory
from tests.links import line, make_link
from tests.paying import filled_in, send

PAGE = "/setup/handle/"
AGENT = {"user-agent": BROWSER}


class HandleTest(TestCase):
    def setUp(self) -> None:
        self.member = MembershipFactory(business__name="Windlestraw Kites")
        self.business = self.member.business

    def have(self, name: str = "windlestraw") -> None:
        name_handle(self.business, name, NOW, by=BY)

    def amount(self, path: str) -> str:
        page = self.client.get(path, headers=AGENT, follow=True)
        found = [
            part.split('value="')[1].split('"')[0] if 'value="' in part else ""
            for part in page.content.decode().split("<input")
            if 'name="amount.payment"' in part
        ]
        return found[0]

    def test_it_is_chosen_by_name_and_works_at_once(self) -> None:
        self.client.force_login(self.member.user)
        self.assertContains(self.client.get(PAGE), "windlestraw-kites")
        for wrong in ("", "pay", "ab", "a--b", "-abc", "Kites!", "ä" * 5, "x" * 31):
            self.assertEqual(self.client.post(PAGE, {"name": wrong}).status_code, 400, wrong)
        self.client.post(PAGE, {"name": " Windlestraw "})
        self.assertContains(self.client.get(PAGE), "http://localhost:8000/to/windlestraw/")
        self.assertContains(self.client.get("/setup/"), "http://localhost:8000/to/windlestraw/")
        self.client.logout()
        page = self.client.get("/to/windlestraw/12.50", headers=AGENT)
        self.assertContains(page, "Payment to Windlestraw Kites")
        form = filled_in(page) | {"amount.payment": "12.50", "note": "The kite from Sunday"}
        self.assertEqual(send(self.client, Link.objects.get(), form).status_code, 303)
        order = Order.objects.get()
        self.assertEqual((order.checkout.answers[0]["answer"], order.spot.name), ("The kite from Sunday", "Handle"))

    def test_it_is_checked_while_it_is_typed(self) -> None:
        other = MembershipFactory(business__name="Windlestraw")
        name_handle(other.business, "windlestraw", NOW, by=BY)
        self.client.force_login(self.member.user)
        answers = {
            name: self.client.get(f"{PAGE}check/", {"name": name}).json() for name in ("Dunes", "Pay", "windlestraw")
        }
        self.assertEqual([each["is_free"] for each in answers.values()], [True, False, False])
        self.assertEqual(answers["windlestraw"]["free"], free_handles(self.business))
        self.assertNotIn("windlestraw", free_handles(self.business))
        self.assertContains(self.client.post(PAGE, {"name": "windlestraw"}), "That handle is taken.", status_code=400)

    def test_a_former_name_leads_on_and_is_never_anothers(self) -> None:
        self.have("dunes")
        self.have()
        self.assertRedirects(self.client.get("/to/Dunes/25.50?utm_source=x"), "/to/windlestraw/25.50?utm_source=x")
        self.assertRedirects(self.client.get("/to/WINDLESTRAW/"), "/to/windlestraw/")
        self.client.force_login(MembershipFactory().user)
        self.assertContains(self.client.post(PAGE, {"name": "dunes"}), "taken", status_code=400)
        self.assertEqual(self.client.get("/to/nobody/").status_code, 404)
        self.have("dunes")
        self.assertEqual(Handle.objects.get(current=True).name, "dunes")
        self.assertEqual(Link.objects.count(), 1)

    def test_a_sum_behind_it_is_filled_in_in_its_currency(self) -> None:
        self.have()
        take_currency(self.business, "USD", NOW, by=BY)
        for path, currency, amount in (
            ("25.50", "EUR", "25.50"),
            ("EUR-25.5", "EUR", "25.50"),
            ("usd-7", "USD", "7.00"),
            ("USD", "USD", ""),
            ("CHF-5", "EUR", ""),
            ("XYZ-5", "EUR", ""),
            ("25,50 €", "EUR", ""),
            ("1e9", "EUR", ""),
            ("-5", "EUR", ""),
            ("0", "EUR", ""),
            ("0.001", "EUR", ""),
            ("9" * 40, "EUR", ""),
            ("9" * 5000, "EUR", ""),
            ("25/50", "EUR", ""),
            ("what/ever/", "EUR", ""),
            ("0.01", "EUR", ""),
        ):
            page = self.client.get(f"/to/windlestraw/{path}", headers=AGENT)
            self.assertEqual((page.status_code, page.context["page"].offer.currency), (200, currency), path)
            self.assertEqual(self.amount(f"/to/windlestraw/{path}"), amount, path)
            says = ("can't be read", "be paid in the currency", "can't be used here")
            told = any(each in page.content.decode().replace("&#x27;", "'") for each in says)
            self.assertEqual(told, not amount and path != "USD", path)

    def test_a_sum_is_locked_only_by_its_signature(self) -> None:
        self.have()
        take_currency(self.business, "USD", NOW, by=BY)
        self.client.force_login(self.member.user)
        made = self.client.get(PAGE, {"amount": "25.5", "currency": "EUR", "lock": "on"}).context["made"]
        self.assertIn("/to/windlestraw/EUR-25.50?", made)
        plain = self.client.get(PAGE, {"amount": "25.5", "currency": "EUR"}).context["made"]
        self.assertEqual(plain, "http://localhost:8000/to/windlestraw/EUR-25.50")
        for wrong in ("0.5", "x", ""):
            self.assertEqual(self.client.get(PAGE, {"amount": wrong, "currency": "EUR"}).status_code, 400)
        self.client.logout()
        path = made.removeprefix("http://localhost:8000")
        locked = self.client.get(path, headers=AGENT)
        self.assertContains(locked, "set by the link you followed")
        self.assertNotContains(self.client.get("/to/windlestraw/25.50"), "set by the address")
        for altered in (path.replace("25.50", "2.50"), path.replace("EUR", "USD")):
            self.assertContains(self.client.get(altered, headers=AGENT), "was changed on its way")
        form = filled_in(locked) | {"amount.payment": "1.00", "note": "x"}
        send(self.client, Link.objects.order_by("id")[0], form)
        self.assertEqual(Order.objects.get().paid.major, "25.50")

    def test_it_goes_with_the_state_of_its_link(self) -> None:
        self.have()
        link = Link.objects.get()
        lifecycle.pause(link, NOW, by=BY)
        self.assertContains(self.client.get("/to/windlestraw/5"), 'data-closed="paused"')
        archiving.remove(link, NOW, by=BY)
        self.assertEqual(self.client.get("/to/windlestraw/").status_code, 404)
        take_currency(self.business, "EUR", NOW, by=BY)
        self.assertContains(self.client.get("/to/windlestraw/5"), "Payment to Windlestraw Kites")

    def test_a_sum_is_never_taken_for_another_currency(self) -> None:
        self.have()
        yen = line("payment", price={"kind": "open", "min": "100", "max": None})
        other = make_link(yen, business=self.business, offer={"currency": "JPY"})
        move_spot(Spot.objects.get(name="Handle"), other, NOW, by=BY)
        page = self.client.get("/to/windlestraw/25", headers=AGENT)
        self.assertEqual(page.context["page"].offer.currency, "JPY")
        self.assertEqual(self.amount("/to/windlestraw/25"), "")
        self.assertContains(page, "be paid in the currency")

    def test_its_code_scans_to_a_page_that_is_paid_there(self) -> None:
        self.have()
        spot = Spot.objects.get(name="Handle")
        image = raster(design_of_spot(spot).piece(f"http://localhost:8000{spot.path}"), 400)
        self.assertEqual(zxingcpp.read_barcodes(image)[0].text, f"http://localhost:8000{spot.path}")
        self.assertContains(self.client.get(spot.path), "Payment to Windlestraw Kites")

    def test_a_currency_is_taken_and_left(self) -> None:
        self.have()
        self.client.force_login(self.member.user)
        self.client.post(PAGE, {"also": "JPY"})
        self.assertEqual(self.amount("/to/windlestraw/JPY-500"), "500")
        self.client.post(PAGE, {"leave": "JPY"})
        self.client.post(PAGE, {"leave": "EUR"})
        self.assertContains(self.client.get("/to/windlestraw/JPY-500"), "be paid in the currency")
        self.assertContains(self.client.post(PAGE, {"also": "???"}, follow=True), "a currency from the list")
