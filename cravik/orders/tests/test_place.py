"""The buyer's place: asked where it matters, reckoned by the server, charged as it was seen."""

from __future__ import annotations

from cravik.links.bench.saving import change_parts
from cravik.links.life import lifecycle
from cravik.orders.models import Order
from cravik.payments.models import Attempt
from cravik.setup.defaults import Subject
from cravik.setup.tests.sheets import SetupTestCase, rates, zones
from tests.factories import BY, NOW, make_draft, make_live, typed
from tests.paying import APPROVES, NO_FUNDS, address_in, filled_in, open_page, pay_live, send


class PlaceOnThePageTest(SetupTestCase):
    """A buyer is asked where they are only where it matters, and pays what was reckoned for there."""

    def setUp(self) -> None:
        super().setUp()
        self.save("delivery", zones({"countries": "IE", "amount": "5"}, {"countries": "FR, DE", "amount": "12"}))
        self.save("tax", rates({"percent": "23"}, {"country": "FR", "percent": "20", "reverse_charge": "on"}))
        draft = make_draft(self.business)
        changed = change_parts(draft, typed(draft, 2400, "Kite", weight_g=400), 1, NOW, by=BY)
        self.link = lifecycle.publish(changed.link, NOW, by=BY)
        self.client.logout()

    def test_the_sellers_country_is_supposed_and_only_what_is_served_offered(self) -> None:
        page = self.client.get(self.link.path)
        self.assertContains(page, "Pay €29.00")
        self.assertContains(page, '<option value="IE" selected>')
        self.assertContains(page, '<option value="FR">')
        self.assertNotContains(page, '<option value="GB">')

    def test_another_country_is_worked_out_by_the_server(self) -> None:
        form = open_page(self.client, self.link)
        answer = self.client.post("/for/visit/slip/", {"page": form["page"], "country": "FR"}).json()
        self.assertEqual((answer["pieces"]["total"], answer["seen_total"]), ("€36.00", "36.00"))
        self.assertIn("Delivery", answer["pieces"]["slip"])
        self.assertIn("to France", answer["pieces"]["asks"])
        firm = {"page": form["page"], "country": "FR", "tax_number": "FR 40 303265045"}
        self.assertEqual(self.client.post("/for/visit/slip/", firm).json()["pieces"]["total"], "€30.00")
        for bad in ({"page": "x"}, {}):
            self.assertEqual(self.client.post("/for/visit/slip/", bad).status_code, 400)
        odd = {"page": form["page"], "country": "ZZ", "region": "<b>"}
        refused = self.client.post("/for/visit/slip/", odd).json()
        self.assertEqual(
            (refused["pieces"]["total"], refused["errors"]), ("–", {"country": "Choose a country from the list."})
        )

    def test_what_was_seen_is_charged_and_nothing_else(self) -> None:
        form = open_page(self.client, self.link) | address_in("FR") | {"country": "FR"}
        answer = send(self.client, self.link, form)
        self.assertContains(answer, "For France it comes to €36.00", status_code=409)
        self.assertContains(answer, "Pay €36.00", status_code=409)
        self.assertEqual(
            send(self.client, self.link, form | {"seen_total": "36.00", "seen_now": "36.00"}).status_code, 303
        )
        order = Order.objects.get()
        self.assertEqual((order.paid.major, order.checkout.where["country"]), ("36.00", "FR"))
        lines = ["Maren Saltmarsh", "2 Strand Lane", "22310 Marramport", "France"]
        self.assertEqual(order.checkout.address_lines, lines)
        self.client.force_login(self.member.user)
        page = self.client.get(order.path)
        self.assertContains(page, "2 Strand Lane")
        self.assertContains(page, "of which VAT 20 %")

    def test_without_script_a_button_works_the_total_out_again(self) -> None:
        sent = {"country": "DE", "update_total": "yes", "name": "", "street": "Weg 1"}
        answer = send(self.client, self.link, open_page(self.client, self.link) | sent)
        self.assertContains(answer, "Pay €36.00")
        self.assertContains(answer, "Weg 1")
        self.assertNotContains(answer, "needs another look")

    def test_an_address_is_needed_and_a_country_that_is_served(self) -> None:
        form = open_page(self.client, self.link)
        answer = send(self.client, self.link, form | {"street": " ", "town": "", "country": "GB", "tax_number": "?"})
        for sentence in ("Enter the address to send it to.", "Write the town.", "be sent there", "5 to 20 letters"):
            self.assertContains(answer, sentence, status_code=400)

    def test_a_postcode_and_a_tax_number_are_such_as_their_country_has(self) -> None:
        form = open_page(self.client, self.link) | address_in("FR") | {"country": "FR"}
        seen = {"seen_total": "36.00", "seen_now": "36.00"}
        for wrong, sentence in (
            ({"postcode": "F91 X2A4"}, "is not a postcode of that country. It looks like 33380 there."),
            ({"postcode": ""}, "Write the postcode, such as 33380."),
            ({"tax_number": "FR12345678901"}, "fit its country"),
        ):
            with self.subTest(sentence):
                self.assertContains(send(self.client, self.link, form | seen | wrong), sentence, status_code=400)
        self.assertEqual(send(self.client, self.link, form | seen | {"postcode": " 22 310"}).status_code, 303)
        self.assertEqual(Order.objects.get().checkout.where["postcode"], "22 310")

    def test_only_a_number_of_the_buyers_own_country_takes_tax_off(self) -> None:
        form = open_page(self.client, self.link) | address_in("FR") | {"country": "FR"}
        for number, total, said in (
            ("12345", "36.00", "It is not a tax number of France, so tax is charged."),
            ("IE1234567FA", "36.00", "It is not a tax number of France, so tax is charged."),
            ("", "36.00", ""),
            ("40 303265045", "30.00", "No tax is charged to your business: FR40303265045 is a number of your country."),
        ):
            with self.subTest(number):
                pieces = self.client.post("/for/visit/slip/", form | {"tax_number": number}).json()["pieces"]
                self.assertEqual((pieces["total"], pieces["tax-number-says"]), (f"€{total}", said))
        at_home = form | address_in("IE") | {"country": "IE", "tax_number": "FR40303265045"}
        home = self.client.post("/for/visit/slip/", at_home).json()["pieces"]
        self.assertEqual((home["total"], home["tax-number-says"]), ("€29.00", ""))
        seen = {"seen_total": "30.00", "seen_now": "30.00"}
        refused = send(self.client, self.link, form | seen | {"tax_number": "IE1234567FA"})
        self.assertContains(refused, "Pay €36.00", status_code=409)
        self.assertEqual(send(self.client, self.link, form | seen | {"tax_number": "FR40303265045"}).status_code, 303)
        order = Order.objects.get()
        self.client.force_login(self.member.user)
        self.assertContains(
            self.client.get(order.path), "a number of France, judging by its check digits, so tax was left"
        )

    def test_a_place_may_be_changed_after_a_decline(self) -> None:
        declined = send(self.client, self.link, open_page(self.client, self.link) | {"card_number": NO_FUNDS})
        form = filled_in(declined) | {
            **address_in("DE"),
            "country": "DE",
            "seen_total": "36.00",
            "seen_now": "36.00",
            "card_number": APPROVES,
        }
        self.assertEqual(send(self.client, self.link, form).status_code, 303)
        approved = Attempt.objects.get(state="approved")
        self.assertEqual((approved.amount.major, approved.checkout.total.major), ("36.00", "36.00"))

    def test_where_nothing_is_sent_and_taxed_alike_nothing_is_asked(self) -> None:
        self.client.force_login(self.member.user)
        self.save(Subject.TAX, rates({"percent": "23"}, seen="1"))
        self.client.logout()
        seat = make_live(self.business, "A seat")
        self.assertNotContains(self.client.get(seat.path), 'name="country"')
        self.assertEqual(pay_live(self.client, seat).status_code, 303)
