"""Every screen, at desk or phone size or at 320 px, in the proofs at each: axe finds nothing and nothing is cut off."""

from __future__ import annotations

import tempfile
from datetime import date
from pathlib import Path

from django.http import HttpResponse
from django.test import override_settings
from django.utils import timezone

from cravik.catalogue.digital_goods import add_codes
from cravik.catalogue.table_import import keep_table
from cravik.catalogue.table_work import do_next_step
from cravik.links.life import lifecycle
from cravik.links.life.from_setup import republish
from cravik.mailroom.models import Letter
from cravik.orders.models import Order
from cravik.orders.own_page import own_path, payments_path
from cravik.orders.purchases.door import let_in
from cravik.orders.running_path import running_path
from cravik.payments.counter.models import CounterCard
from cravik.payments.models import Attempt
from cravik.setup.look_services import change_look, make_look
from cravik.setup.terms import make_terms
from cravik.ui.spreadsheets import Table
from cravik.upkeep.archive.shelf import check
from cravik.upkeep.archive.taking import take_by_hand, take_daily
from tests.browser.base import DESK, PHONE, BrowserTestCase
from tests.factories import BY, NOW, make_draft, make_item, make_live
from tests.over_time import ENDLESS, buy
from tests.paying import FALLS_SILENT, pay_live

MAX_LENGTH = "Ungewöhnlichlangerdrachenname" * 4


class EveryScreenTest(BrowserTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.live = make_live(self.business, MAX_LENGTH)
        self.draft = make_draft(self.business, "Box kite")
        self.paused = lifecycle.pause(make_live(self.business, "Paused kite"), timezone.now(), by=BY)
        self.ended = lifecycle.end(make_live(self.business, "Ended kite"), timezone.now(), by=BY)
        pay_live(self.client, self.live)
        self.order = Order.objects.get()
        spans = {MAX_LENGTH[:40]: ("1.2 m", MAX_LENGTH[:40]), "Colour": ("red", "green")}
        self.item = make_item(self.business, MAX_LENGTH, code="DELTA", choices=spans)
        pay_live(self.client, make_live(self.business, "Silent"), card_number=FALLS_SILENT)
        asks = CounterCard.objects.get(conduct="check").number
        self.bank = pay_live(self.client, make_live(self.business, "Checked"), card_number=asks)["Location"]
        add_codes(self.item, "WIND-1\nWIND-2", NOW, by=BY)
        self.look = make_look(self.business, timezone.now(), by=BY)
        dark = {"ground": "#141c26", "sheet": "#1d2733", "text": "#eef2f4", "link": "#8fd0ff", "button": "#f2b705"}
        dark |= {"button_text": "#1a1a1a", "band": "#0c1219", "band_text": "#f2b705"}
        change_look(self.look, MAX_LENGTH[:60], self.look.document | {"colours": dark}, 1, timezone.now(), by=BY)
        self.pale = make_look(self.business, timezone.now(), by=BY)
        pale = self.pale.document["colours"] | {"link": "#aaccdd", "button": "#ffee88"}
        change_look(self.pale, "Too pale", self.pale.document | {"colours": pale}, 1, timezone.now(), by=BY)
        self.terms = make_terms(self.business, MAX_LENGTH[:60], f"**{MAX_LENGTH}**", timezone.now(), by=BY)
        for subject in ("look", "conditions"):
            republish(self.business, subject, {self.live.pk, self.paused.pk}, timezone.now(), by=BY)
        rows = [(2, ["Kite", "heavy"]), (3, ["Sled", ""])]
        self.upload = keep_table(self.business, "kites.csv", Table(["name", "weight_g"], rows), timezone.now())
        do_next_step(self.upload)
        self.runs = buy(self.business, ENDLESS, date(2026, 1, 31))
        self.pending = Attempt.objects.exclude(details__has_key="bank").get(state="pending").checkout

    def visit(self, as_seller: bool, addresses: list[str]) -> None:
        self.look_at_each(addresses, self.seller_page if as_seller else self.new_page)

    def test_what_sellers_see(self) -> None:
        letter = Letter.objects.first()
        self.visit(
            True,
            [
                *(
                    "/",
                    "/?state=ended",
                    "/?q=nothing",
                    "/?label=none&changed=yes&sort=-money",
                    "/links/new/",
                    "/setup/",
                    "/orders/",
                    "/orders/to-make/?state=",
                    "/orders/not-paid/",
                    "/orders/?rehearsals=yes",
                ),
                *("/running/", "/running/?state=ended", running_path(self.runs)),
                *(f"/links/{self.live.pk}/", f"/links/{self.draft.pk}/", f"/links/{self.live.pk}/hand-out/"),
                *(f"/links/{self.live.pk}/versions/", f"/links/{self.live.pk}/waiting/"),
                *("/results/", f"/links/{self.live.pk}/results/"),
                *(
                    self.order.path,
                    self.order.refund_path,
                    self.order.documents.get().path,
                    "/mailroom/",
                    f"/mailroom/{letter.pk}/",
                ),
                f"/for/rehearsal/{self.draft.pk}/",
                *("/catalogue/", "/catalogue/?q=nothing", "/catalogue/new/", "/catalogue/spreadsheet/"),
                f"/catalogue/spreadsheet/{self.upload.pk}/",
                *(
                    f"/catalogue/{self.item.pk}/",
                    f"/catalogue/{self.item.pk}/stock/",
                    f"/catalogue/{self.item.pk}/goods/",
                ),
                f"/links/{self.live.pk}/own/conditions/",
            ],
        )

    def test_what_those_see_who_look_after_it(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(DATA_DIR=folder, CRAVIK_BACKUPS=folder / "backups"))
        sound, spoiled = take_by_hand(NOW), take_daily(NOW)
        spoiled.write_bytes(spoiled.read_bytes()[:-99])
        for archive in (sound, spoiled):
            check(archive, NOW)
        self.user.is_superuser = True
        self.user.save()
        self.visit(True, ["/setup/installation/", f"/setup/installation/{sound.name}/restore/"])

    def test_what_sellers_see_in_setup(self) -> None:
        draft = self.draft.pk
        self.visit(
            True,
            [
                *("/setup/", "/setup/?q=vat", "/setup/?q=zebra", "/setup/business/", "/setup/tax/", "/setup/delivery/"),
                *(
                    "/setup/fee/",
                    "/setup/looks/",
                    f"/setup/looks/{self.pale.pk}/",
                    f"/setup/looks/{self.look.pk}/sample/",
                ),
                *("/setup/terms/", "/setup/terms/new/", f"/setup/terms/{self.terms.pk}/", self.terms.version.path),
                *("/setup/messages/", "/setup/messages/receipt/", "/setup/password/"),
                *("/orders/documents/settings/", "/setup/later-payments/"),
                *(f"/links/{draft}/own/{subject}/" for subject in ("tax", "delivery", "fee", "look", "contact")),
            ],
        )

    def stop_path(self) -> str:
        place, _, mark = payments_path(self.runs.checkout.reference).partition("?")
        return f"{place}stop/?{mark}"

    def own(self, page: str) -> str:
        """A page of the order's buyer."""
        place, _, mark = own_path(self.order.checkout.reference).partition("?")
        return f"{place}{page}?{mark}"

    def test_what_buyers_and_strangers_see(self) -> None:
        self.visit(
            False,
            [
                *(self.live.path, self.paused.path, self.ended.path, self.draft.path, "/counter/cards/", "/sign-in/"),
                *(self.order.checkout.path, self.pending.path, own_path(self.order.checkout.reference)),
                *(f"/purchases/{self.business.pk}/", f"/purchases/{self.business.pk}/open/x/"),
                *(self.own("invoice/"), self.own(f"document/{self.order.documents.get().pk}/")),
                *(payments_path(self.runs.checkout.reference), self.stop_path()),
                *(own_path(self.pending.reference), "/paid/?reference=X", self.bank, "/forgotten/", "/nothing/"),
            ],
        )

    def test_a_buyers_purchases_and_how_they_part(self) -> None:
        place, kept = f"/purchases/{self.business.pk}/", HttpResponse()
        let_in(kept, self.business.pk, self.order.buyer_id or 0, secure=False)
        cookie = {"name": next(iter(kept.cookies)), "value": next(iter(kept.cookies.values())).value}
        for size in (PHONE, DESK):
            page = self.new_page(size)
            page.context.add_cookies([cookie | {"url": f"{self.live_server_url}{place}"}])
            for address in (place, f"{place}orders/{self.order.number}/withdraw/", f"{place}erase/"):
                with self.subTest(f"{address} at {size['width']}"):
                    page.goto(address)
                    page.get_by_role("heading", level=1).wait_for()
                    self.assertNotIn("that you bought with", page.content(), "it is open")
                    self.assert_accessible(page)
                    self.assert_fits(page)

    def test_mistakes_are_told_accessibly(self) -> None:
        page = self.new_page(PHONE, java_script_enabled=True)
        page.goto(self.live.path)
        page.evaluate("document.querySelector('[data-pay]').noValidate = true")
        page.get_by_role("button", name="Pay").click()
        page.get_by_text("Something below needs another look").wait_for()
        self.assert_accessible(page)
        described = page.get_by_label("Your name").get_attribute("aria-describedby")
        self.assertIn("Write your name", page.locator(f"#{described}").inner_text())

    def test_the_first_start(self) -> None:
        self.user.delete()
        self.visit(False, ["/start/"])
