"""Decided once in Setup: what is typed, what follows in drafts and links, what a link decides itself."""

from __future__ import annotations

from django.test import SimpleTestCase

from cravik.core.documents.defaults import read_defaults
from cravik.links.life import lifecycle
from cravik.links.making.copies import make_link_of_item
from cravik.links.models import Link
from cravik.payments.counter.models import CounterCharge
from cravik.setup.look_services import change_look, make_look
from cravik.setup.models import Default
from cravik.setup.search import found_in_setup, places
from cravik.setup.tests.sheets import SetupTestCase, bands, rates, zones
from cravik.ui.places import country_choices, format_countries, parse_countries
from tests.factories import BY, NOW, make_draft, make_item, make_live
from tests.paying import filled_in, pay_live


class CountriesTest(SimpleTestCase):
    def test_names_codes_and_groups_are_understood(self) -> None:
        typed = "Ireland, gb; Côte d'Ivoire\nEU, everywhere else, Ireland"
        codes, unknown = parse_countries(typed)
        self.assertEqual((codes[:4], codes[-1], len(codes), unknown), (["IE", "GB", "CI", "AT"], "*", 30, []))

    def test_countries_are_known_by_what_people_call_them(self) -> None:
        for called, code in (("Great Britain", "GB"), ("holland", "NL"), ("the Netherlands", "NL"), ("Turkey", "TR")):
            self.assertEqual(parse_countries(called), ([code], []), called)
        self.assertEqual(parse_countries("Czech Republic, United States of America, UAE")[0], ["CZ", "US", "AE"])

    def test_what_was_read_is_written_so_that_it_reads_back(self) -> None:
        every = [code for code, _ in country_choices()]
        self.assertEqual(parse_countries(format_countries([*every, "*"])), ([*every, "*"], []))


class DeliverySheetTest(SetupTestCase):
    def test_each_of_the_five_charges_can_be_set_and_is_shown_again(self) -> None:
        sent = zones(
            {"name": "Home", "countries": "IE", "amount": "5,00", "free_from": "80"},
            {"countries": "GB", "kind": "per_item", "first": "9.50", "next": "3"},
            {"countries": "FR", "kind": "by_value"} | bands(("0", "12"), ("100", "0"), ("", "")),
            {"countries": "DE", "kind": "by_weight"} | bands(("0", "11"), ("1000 g", "16.5")),
            {"name": "Rest", "countries": "everywhere else", "kind": "percent", "percent": "12,5 %"},
        )
        self.assertRedirects(self.save("delivery", sent), "/setup/delivery/")
        zones_held = self.held("delivery")["delivery"]["zones"]
        self.assertEqual(
            [zone["charge"] for zone in zones_held],
            [
                {"kind": "flat", "amount": "5.00"},
                {"kind": "per_item", "first": "9.50", "next": "3.00"},
                {
                    "kind": "by_value",
                    "bands": [{"from": "0.00", "amount": "12.00"}, {"from": "100.00", "amount": "0.00"}],
                },
                {"kind": "by_weight", "bands": [{"from_g": 0, "amount": "11.00"}, {"from_g": 1000, "amount": "16.50"}]},
                {"kind": "percent", "percent": "12.5"},
            ],
        )
        self.assertEqual((zones_held[1]["name"], zones_held[0]["free_from"]), ("United Kingdom", "80.00"))
        again = self.client.get("/setup/delivery/")
        for shown in ('value="80.00"', 'value="1000"', 'value="12.5"', "\neverywhere else</textarea>", 'value="9.50"'):
            self.assertContains(again, shown)

    def test_every_mistake_is_told_at_its_zone_and_loses_nothing(self) -> None:
        cases = [
            ({"countries": "Atlantis, IE", "amount": "5"}, "“Atlantis” is no country that we know."),
            ({"countries": "IE"}, "Write the amount; 0 is possible."),
            ({"countries": "IE", "amount": "1,234"}, "can be read in two ways"),
            ({"countries": "IE", "amount": "-5"}, "be below zero"),
            ({"countries": "", "amount": "5"}, "Name the countries of this zone"),
            ({"countries": "IE", "kind": "percent", "percent": "101"}, "no percentage from 0 to 100"),
            ({"countries": "IE", "kind": "percent"}, "Write the percentage."),
            ({"countries": "IE", "kind": "by_weight"}, "Write at least one row of charges"),
            ({"countries": "IE", "kind": "by_weight"} | bands(("1.5 kg", "5")), "Write whole grams"),
            ({"countries": "IE", "kind": "by_weight"} | bands(("500", "5")), "from"),
            ({"countries": "IE", "kind": "by_value"} | bands(("0", "5"), ("0", "4")), "from"),
        ]
        for zone, sentence in cases:
            with self.subTest(sentence):
                answer = self.save("delivery", zones(zone | {"name": "Kept <b>"}))
                self.assertContains(answer, sentence, status_code=400)
                self.assertContains(answer, "Kept &lt;b&gt;", status_code=400)
        self.assertContains(self.save("delivery", zones()), "at least one zone", status_code=400)
        self.assertFalse(Default.objects.exists())

    def test_a_zone_is_removed_by_its_box_alone(self) -> None:
        home, rest = {"countries": "IE", "amount": "5"}, {"countries": "everywhere else", "amount": "9"}
        self.assertRedirects(self.save("delivery", zones(home, rest, {})), "/setup/delivery/")  # a blank one is none
        emptied = zones(home, rest | {"countries": ""}, seen="1")
        self.assertContains(self.save("delivery", emptied), "or remove it", status_code=400)
        self.assertRedirects(self.save("delivery", emptied | {"zone-1-remove": "on"}), "/setup/delivery/")
        self.assertEqual([zone["countries"] for zone in self.held("delivery")["delivery"]["zones"]], [["IE"]])

    def test_nothing_may_be_charged_too(self) -> None:
        self.save("delivery", {"how": "none", "seen": "0"})
        self.assertEqual(self.held("delivery"), {"currency": "EUR"})
        self.assertContains(self.client.get("/setup/"), "nothing is charged")

    def test_a_second_tab_is_told(self) -> None:
        self.save("delivery", {"how": "none", "seen": "0"})
        answer = self.save("delivery", zones({"countries": "IE", "amount": "7"}))
        self.assertContains(answer, "changed in another tab", status_code=409)
        self.assertContains(answer, 'value="7"', status_code=409)
        self.assertEqual(Default.objects.get().revision, 1)


class TaxSheetTest(SetupTestCase):
    def test_rates_by_place_in_prices_or_on_top(self) -> None:
        self.save("tax", rates({"percent": "23"}, {"country": "US", "region": "Ohio", "percent": "5,75"}, how="on_top"))
        terms = read_defaults(self.held("tax")).tax
        self.assertEqual(
            [(rate.country, rate.region, rate.percent.text) for rate in terms.rates],
            [("IE", None, "23"), ("US", "Ohio", "5.75")],
        )
        self.assertFalse(terms.prices_include_tax)
        self.assertContains(self.client.get("/setup/tax/"), 'value="Ohio"')

    def test_a_row_is_removed_by_its_box_alone(self) -> None:
        self.save("tax", rates({"percent": "23"}, {"country": "FR", "percent": "20"}))
        both = rates({"percent": "23"}, {"country": "FR", "percent": ""}, seen="1")
        self.assertContains(self.save("tax", both), "or remove the row", status_code=400)
        self.assertRedirects(self.save("tax", both | {"rate-1-DELETE": "on"}), "/setup/tax/")
        self.assertEqual([rate["country"] for rate in self.held("tax")["tax"]["rates"]], ["IE"])

    def test_no_tax_is_a_decision_too(self) -> None:
        self.assertContains(self.client.get("/setup/"), "Until then none is.")
        self.save("tax", rates(how="none"))
        self.assertNotContains(self.client.get("/setup/"), "Until then none is.")

    def test_mistakes(self) -> None:
        self.assertContains(self.save("tax", rates()), "at least one rate", status_code=400)
        self.assertContains(self.save("tax", rates({"region": "Ohio"})), "Write the percentage", status_code=400)
        self.assertContains(self.save("tax", rates({"percent": "23 VAT"})), "no percentage", status_code=400)
        # A row that says less than it has to is refused, not dropped; an untouched one is passed over.
        kept = self.save("tax", rates({"percent": "23"}, {"name": "Half a rate"}))
        self.assertContains(kept, "or remove the row", status_code=400)
        self.assertContains(kept, 'href="#id_rate-1-percent"', status_code=400)
        self.assertContains(self.save("tax", rates(how="never")), "valid choice", status_code=400)


class FollowingTest(SetupTestCase):
    """Drafts at once; live links when the seller has seen which; links with terms of their own never."""

    def setUp(self) -> None:
        super().setUp()
        self.kite = lifecycle.publish(self.link_of_kite(), NOW, by=BY)
        self.draft = self.link_of_kite()

    def link_of_kite(self) -> Link:
        item = make_item(self.business, "Delta kite", 4800)
        return make_link_of_item(self.business, item, item.price, NOW, by=BY)

    def price_on(self, link: Link) -> str:
        self.client.logout()
        answer = self.client.get(link.path)
        self.client.force_login(self.member.user)
        return answer.content.decode().split('data-piece="total">')[1].split("<")[0]

    def test_a_live_link_waits_for_the_sellers_word(self) -> None:
        self.save("delivery", zones({"countries": "IE", "amount": "5"}))
        self.draft.refresh_from_db()
        self.assertEqual(self.draft.offer.delivery.zones[0].charge.amount.major, "5.00")
        self.assertEqual(self.price_on(self.kite), "€48.00")
        page = self.client.get("/setup/delivery/")
        self.assertContains(page, "1 published link still shows buyers the old version.")
        self.assertContains(page, f'value="{self.kite.pk}" checked')
        self.assertRedirects(self.client.post("/links/setup/delivery/", {}), "/setup/delivery/")
        self.assertEqual(self.price_on(self.kite), "€48.00")
        self.client.post("/links/setup/delivery/", {"link": [str(self.kite.pk), "x", "9" * 30]})
        self.assertEqual(self.price_on(self.kite), "€53.00")
        self.assertContains(self.client.get("/setup/delivery/"), "1 published link uses this")
        self.kite.refresh_from_db()
        self.assertFalse(self.kite.has_unpublished_changes)

    def test_bringing_up_publishes_nothing_else(self) -> None:
        self.kite.sold_items.filter(version=None).get().item.prices.update(amount_minor=9900)
        self.client.post(f"/links/{self.kite.pk}/item-price/")
        self.save("delivery", zones({"countries": "IE", "amount": "5"}))
        self.client.post("/links/setup/delivery/", {"link": str(self.kite.pk)})
        self.assertEqual(self.price_on(self.kite), "€53.00")

    def test_a_link_with_terms_of_its_own_follows_no_more(self) -> None:
        address = f"/links/{self.draft.pk}/own/delivery/"
        sent = zones({"countries": "IE", "amount": "9"}, whose="own", seen=str(self.draft.revision))
        self.assertRedirects(self.client.post(address, sent), f"/links/{self.draft.pk}/#panel-settings")
        self.save("delivery", zones({"countries": "IE", "amount": "5"}))
        self.draft.refresh_from_db()
        self.assertEqual(self.draft.offer.delivery.zones[0].charge.amount.major, "9.00")
        self.assertContains(self.client.get(f"/links/{self.draft.pk}/"), "its own")
        stale = self.client.post(address, sent)
        self.assertContains(stale, "changed in another tab", status_code=409)
        self.client.post(address, {"whose": "default", "seen": str(self.draft.revision)})
        self.draft.refresh_from_db()
        self.assertEqual(self.draft.offer.delivery.zones[0].charge.amount.major, "5.00")

    def test_zones_in_another_currency_charge_nothing(self) -> None:
        self.save("delivery", zones({"countries": "IE", "amount": "5"}))
        sent = {"amount.purpose": "40", "currency": "GBP", "revision": str(self.draft.revision)}
        self.draft.refresh_from_db()
        sent["revision"] = str(self.draft.revision)
        self.client.post(f"/links/{self.draft.pk}/", sent)
        self.draft.refresh_from_db()
        self.assertEqual((self.draft.offer.currency, self.draft.offer.delivery), ("GBP", None))
        self.assertEqual(self.draft.offer.fee.fixed.major, "0.00")

    def test_the_fee_shows_in_what_the_seller_keeps(self) -> None:
        self.save("fee", {"percent": "10", "fixed": "1", "seen": "0"})
        self.assertContains(self.client.get(f"/links/{self.draft.pk}/"), "€42.20")
        self.assertContains(
            self.save("fee", {"percent": "", "fixed": "x", "seen": "1"}), "Write the amount", status_code=400
        )

    def test_unknown_subjects_are_not_there(self) -> None:
        for address in ("/setup/nothing/", f"/links/{self.draft.pk}/own/nothing/"):
            self.assertEqual(self.client.get(address).status_code, 404)
        self.assertEqual(self.client.post("/links/setup/nothing/").status_code, 404)


class BusinessTest(SetupTestCase):
    def sent(self, **changes: str) -> dict[str, str]:
        page = self.client.get("/setup/business/").content.decode()
        seen = page.split('name="seen" value="')[1].split('"')[0]
        names = ("name", "support_email", "country", "currency", "time_zone", "statement_text")
        return {name: getattr(self.business, name) for name in names} | {"seen": seen} | changes

    def test_a_second_tab_is_told_and_loses_nothing(self) -> None:
        first, second = self.sent(name="First"), self.sent(name="Second")
        self.assertRedirects(self.client.post("/setup/business/", first), "/setup/business/")
        answer = self.client.post("/setup/business/", second)
        self.assertContains(answer, "changed in another tab", status_code=409)
        self.assertContains(answer, 'value="Second"', status_code=409)
        self.assertContains(answer, '<span class="tag-price">First</span>', status_code=409)

    def test_another_country_is_where_tax_is_at_home(self) -> None:
        self.save("tax", rates({"percent": "23"}))
        draft = make_draft(self.business)
        self.client.post("/setup/business/", self.sent(country="FR"))
        draft.refresh_from_db()
        self.assertEqual(draft.offer.tax.seller_country, "FR")

    def test_which_links_show_it_is_said_before(self) -> None:
        link = make_live(self.business)
        page = self.client.get("/setup/business/")
        self.assertContains(page, "1 published link shows them")
        self.assertContains(page, link.name)


class ContactOfALinkTest(SetupTestCase):
    def test_a_link_may_have_a_contact_and_a_statement_of_its_own(self) -> None:
        draft = make_draft(self.business)
        address = f"/links/{draft.pk}/own/contact/"
        typed = {"support_email": "beach@windlestraw.example", "statement_text": "beach  workshops"}
        self.assertContains(self.client.get(f"/links/{draft.pk}/"), "hello@dunes.example, WINDLESTRAW")
        wrong = self.client.post(address, typed | {"whose": "own", "seen": "1", "statement_text": "é"})
        self.assertContains(wrong, "Use 5 to 22 plain letters", status_code=400)
        self.client.post(address, typed | {"whose": "own", "seen": "1"})
        draft.refresh_from_db()
        link = lifecycle.publish(draft, NOW, by=BY)
        self.client.logout()
        page = self.client.get(link.path)
        self.assertContains(page, "mailto:beach@windlestraw.example")
        self.assertContains(page, "BEACH WORKSHOPS")
        paid = self.client.get(pay_live(self.client, link)["Location"])
        self.assertContains(paid, "BEACH WORKSHOPS")
        self.assertEqual(CounterCharge.objects.get().statement_text, "BEACH WORKSHOPS")
        lifecycle.end(link, NOW, by=BY)
        self.assertContains(self.client.get(link.path), "beach@windlestraw.example", status_code=410)


class HomeTest(SetupTestCase):
    def test_everything_is_found_by_the_words_that_people_have_for_it(self) -> None:
        cases = {"vat": "Tax rates by place", "shipping": "Delivery", "clock": "Time zone"}
        for typed, title in cases.items():
            self.assertContains(self.client.get("/setup/", {"q": typed}), f"<strong>{title}</strong>")
        self.assertContains(self.client.get("/setup/", {"q": "<zebra>"}), "Nothing here matches “&lt;zebra&gt;”")
        self.assertEqual(found_in_setup("  "), [])

    def test_every_place_that_is_found_is_there(self) -> None:
        for place in places():
            path, _, anchor = place.address.partition("#")
            with self.subTest(place.title):
                self.assertContains(self.client.get(path), f'id="{anchor}"' if anchor else "<h1>")

    def test_what_is_missing_is_listed_and_blocks_nothing(self) -> None:
        page = self.client.get("/setup/")
        self.assertContains(page, "A purpose and an amount are enough.")
        self.assertNotContains(page, "You sell things that are sent")
        make_item(self.business, "Delta kite")
        make_live(self.business)
        page = self.client.get("/setup/")
        self.assertContains(page, "You sell things that are sent")
        self.assertContains(page, "A link is published.")
        self.assertContains(page, "Pay once as a buyer would")
        rehearsed = make_draft(self.business, "Sled kite")
        form = filled_in(self.client.get(f"/for/rehearsal/{rehearsed.pk}/"))
        self.client.post(f"/for/rehearsal/{rehearsed.pk}/pay/", form)
        self.assertContains(self.client.get("/setup/"), "You paid in one.")

    def test_strangers_see_no_private_address_unseen(self) -> None:
        self.assertContains(self.client.get("/setup/"), "are never shown")
        self.business.support_email = self.member.user.email.upper()
        self.business.save()
        self.assertContains(self.client.get("/setup/"), "The contact is the address that you sign in with.")
        look = make_look(self.business, NOW, by=BY)
        footer = f"Write to {self.member.user.email}, {self.member.user.name.upper()}"
        change_look(look, "Sea", look.document | {"footer": footer}, 1, NOW, by=BY)
        page = self.client.get("/setup/")
        self.assertContains(page, "The look “Sea” holds the address that you sign in with.")
        self.assertContains(page, "The look “Sea” holds your own name.")
