"""What the tax sheet says a rate reaches, and the example beside it; what receipts say of who sells."""

from __future__ import annotations

from django.test import Client

from cravik.core.pricing.percent import Percent
from cravik.core.pricing.tax import TaxRate, TaxRules
from cravik.core.text.tax_reach import reach_words
from cravik.mailroom.models import Letter
from cravik.setup.tax_example import tax_example
from cravik.setup.tests.sheets import SetupTestCase, rates
from tests.factories import make_live
from tests.paying import pay_live

VAT = TaxRate("IE", "VAT", Percent.parse("23"))
REDUCED = TaxRate("IE", "VAT", Percent.parse("13.5"), categories=("seats",))
POSTAGE = TaxRate("IE", "VAT", Percent.parse("9"), categories=("delivery",))
TIPS = "tips and amounts that buyers choose (unless you give them another category)"


class TaxExampleTest(SetupTestCase):
    def test_the_words_say_what_the_sums_are_worked_out_by(self) -> None:
        cases = {
            (VAT,): (
                f"items of the category standard, {TIPS}, and delivery, since no rate of this place is for delivery",
            ),
            (REDUCED,): ("items of the category seats",),
            (VAT, POSTAGE): (
                f"items of the category standard, {TIPS}; not delivery, for which another rate of this place is",
                "delivery",
            ),
        }
        for there, words in cases.items():
            with self.subTest(words):
                self.assertEqual(tuple(reach_words(rate, there) for rate in there), words)
        # 48 and a tip of 5 at 23 %, 6 of delivery at 23 % and at 9 %: worked out by hand.
        for there, tax in (((VAT,), "13.57"), ((VAT, POSTAGE), "12.73"), ((REDUCED,), "6.48")):
            example = tax_example(TaxRules("IE", there), "EUR")
            assert example
            self.assertEqual(example.quote.tax.major, tax)
        self.assertIsNone(tax_example(TaxRules("IE", ()), "EUR"))
        abroad = tax_example(TaxRules("DE", (VAT,)), "JPY")
        assert abroad
        self.assertEqual((abroad.place, abroad.quote.total.major), ("Ireland", "72"))

    def test_the_sheet_shows_it_and_works_it_out_while_it_is_typed(self) -> None:
        self.save("tax", rates({"percent": "23"}))
        page = self.client.get("/setup/tax/")
        self.assertContains(page, "An example, in Ireland")
        self.assertContains(page, "Exempt foreign businesses with a tax number")
        self.assertContains(page, "You owe the tax if it was wrongly left out.")
        typed = rates({"percent": "10"}) | {"in": "EUR"}
        self.assertContains(self.client.post("/setup/tax/example/", typed), "VAT 10 %")
        self.assertEqual(self.client.post("/setup/tax/example/", typed | {"rate-0-percent": "x"}).status_code, 204)
        self.assertEqual(self.client.post("/setup/tax/example/", {}).status_code, 204)
        self.assertContains(self.client.get("/setup/tax/"), "VAT 23 %")

    def test_receipts_say_who_sells_and_setup_says_when_they_cannot(self) -> None:
        self.save("tax", rates({"percent": "23"}))
        self.assertContains(self.client.get("/setup/"), "Receipts with tax need your address and tax number.")
        page = self.client.get("/setup/business/")
        form = {each.name: each.value() for each in page.context["form"]} | {"seen": page.context["seen"]}
        wrong = self.client.post("/setup/business/", form | {"tax_number": "IE1234567XX"})
        self.assertContains(wrong, "fit its country", status_code=400)
        given = form | {"tax_number": "ie 1234567fa", "address": "3 Dune Road\r\n{kept}"}
        self.assertEqual(self.client.post("/setup/business/", given).status_code, 302)
        self.assertContains(self.client.get("/setup/"), "Name, contact, country, currency and the words on statements")
        paid = pay_live(Client(), make_live(self.business))
        letter = Letter.objects.get(kind="receipt")
        self.assertIn("3 Dune Road\n{kept}\nTax number IE1234567FA", letter.text)
        self.assertContains(Client().get(paid["Location"]), "Tax number IE1234567FA")
