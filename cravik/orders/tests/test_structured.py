"""Invoices in their structured form pass the schema and rules of EN 16931, as another's package has them; or say why
there is none."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from xml.etree import ElementTree

from django.test import SimpleTestCase

from cravik.core.documents.cii import write_cii
from cravik.core.invoicing.content import Content, DocumentLine, Paid, Party, Reference
from cravik.core.invoicing.structured import structured, why_not
from cravik.core.pricing.money import Money
from cravik.core.pricing.payment import TaxLine
from cravik.core.pricing.percent import Percent, rounded_ratio
from tests.en16931 import broken_rules

ON = date(2026, 12, 1)
SELLER = Party(
    "Windlestraw Kites", street=("3 Dune Road", "Pier", "Shed 4", "Left"), country="IE", tax_number="IE1234567FA"
)
BUYER = Party("Maren & <Co>", "Dune Ltd", ("1 Strand",), "F91 X2A4", "Marramport", "", "IE", "IE6388047V")


def euros(minor: int) -> Money:
    return Money(minor, "EUR")


def sold(gross: int, percent: str = "23", quantity: int = 1, kind: str = "line", name: str = "VAT") -> DocumentLine:
    """A line whose price includes tax, rounded by itself."""
    rate = Percent.parse(percent)
    net = rounded_ratio(gross * 1_000_000, 1_000_000 + rate.ten_thousandths)
    taxes = (TaxLine(name, rate, euros(net), euros(gross - net)),)
    return DocumentLine(kind, "Kite", ("1.2 m",), quantity, euros(gross), euros(0), euros(gross), taxes)  # type: ignore[arg-type]


def untaxed(gross: int, kind: str = "line") -> DocumentLine:
    return DocumentLine(kind, "Kite", (), 1, euros(gross), euros(0), euros(gross))  # type: ignore[arg-type]


def invoice(*lines: DocumentLine, **more: object) -> Content:
    total = sum((line.total for line in lines), euros(0))
    rows = {(row.name, row.percent.text): row for line in lines for row in line.taxes}
    whole = Content(
        kind="invoice",
        of="whole",
        number="I-2026-0001",
        issued_on=ON,
        supplied_on=ON,
        order="Order 1001",
        reference="7K2M9QX4T1ZB",
        seller=SELLER,
        buyer=BUYER,
        currency="EUR",
        lines=lines,
        tax_lines=tuple(rows.values()),
        total=total,
        paid=(Paid(ON, "card ending in 0019", total),),
    )
    return replace(whole, **more)  # type: ignore[arg-type]


REVERSED = DocumentLine(
    "line",
    "Kite",
    (),
    2,
    euros(10000),
    euros(0),
    euros(8130),
    (TaxLine("VAT", Percent.parse("23"), euros(8130), euros(0)),),
)
GOOD = {
    "one rate": invoice(sold(2400)),
    "two rates, delivery and the covered fee": invoice(
        sold(5997, quantity=3), sold(1450, "9", 2), sold(600, kind="delivery"), untaxed(61, "cover")
    ),
    "many lines, whose cents do not add up by rate": invoice(*(sold(35) for _ in range(19))),
    "a rate of nothing": invoice(sold(2400, "0")),
    "reverse charge": invoice(REVERSED, is_reversed=True, buyer=replace(BUYER, country="DE", tax_number="DE136695976")),
    "exempt, with its reason": invoice(untaxed(2400), note="Exempt: education."),
    "not paid yet": invoice(sold(60000), paid=(Paid(ON, "card", euros(10000)),)),
    "a prepayment": invoice(sold(12000), of="prepayment"),
    "a credit note": invoice(sold(2400), kind="correction", corrects=Reference("I-2026-0001", ON), why="Torn"),
    "of delivery alone": invoice(sold(600, kind="delivery"), kind="correction", corrects=Reference("I-2026-0001", ON)),
    "signs that XML has no place for": invoice(sold(2400), note="Bell \x07 and ￾ and 🪁"),
}
BAD = {
    "structured_receipt": invoice(sold(2400), kind="receipt"),
    "structured_final": invoice(sold(2400), of="final"),
    "structured_country": invoice(sold(2400), seller=replace(SELLER, country="US")),
    "structured_buyer_country": invoice(sold(2400), buyer=replace(BUYER, country="")),
    "structured_two_taxes": invoice(sold(2400)._replace(taxes=sold(2400).taxes + sold(2400, "5").taxes)),
    "structured_seller_number": invoice(sold(2400), seller=replace(SELLER, tax_number="")),
    "structured_buyer_number": invoice(REVERSED, is_reversed=True, buyer=replace(BUYER, tax_number="")),
    "structured_exempt": invoice(untaxed(2400)),
}


class StructuredTest(SimpleTestCase):
    def test_each_passes_the_schema_and_the_rules(self) -> None:
        for name, content in GOOD.items():
            with self.subTest(name):
                self.assertEqual(why_not(content), ())
                self.assertEqual(broken_rules(write_cii(content)), [])

    def test_a_wrong_sum_would_be_found(self) -> None:
        xml = write_cii(GOOD["one rate"])
        for right, wrong in (
            (b"<ram:GrandTotalAmount>24.00", b"<ram:GrandTotalAmount>25.00"),
            (b"<ram:LineTotalAmount>19.51", b"<ram:LineTotalAmount>20.51"),
            (b"<ram:DuePayableAmount>0.00", b"<ram:DuePayableAmount>1.00"),
        ):
            self.assertIn(right, xml)
            self.assertNotEqual(broken_rules(xml.replace(right, wrong)), [], wrong)

    def test_what_is_paid_stays_what_was_paid(self) -> None:
        """Nineteen times 0.35 is 6.65, of which 0.07 each, 1.33, are tax by line and 1.22 by the standard."""
        content = GOOD["many lines, whose cents do not add up by rate"]
        sums = structured(content)
        self.assertEqual((sums.base.major, sums.tax.major, sums.rounding.major), ("5.32", "1.22", "0.11"))
        self.assertEqual((sums.grand_total + sums.rounding, sums.due), (content.total, euros(0)))
        root = ElementTree.fromstring(write_cii(content))
        amounts = {each.tag.rpartition("}")[2]: each.text for each in root.iter() if each.tag.endswith("Amount")}
        self.assertEqual((amounts["RoundingAmount"], amounts["DuePayableAmount"]), ("0.11", "0.00"))

    def test_what_cannot_be_said_in_it_says_why(self) -> None:
        for code, content in BAD.items():
            self.assertIn(code, [each.code for each in why_not(content)])
        dinar = replace(invoice(sold(2400)), currency="BHD")
        self.assertIn("structured_digits", [each.code for each in why_not(dinar)])
