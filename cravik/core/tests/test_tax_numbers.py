"""Which tax numbers are a country's. Those here are the examples that the countries themselves publish."""

from __future__ import annotations

from unittest import TestCase

from cravik.core.link.tax_numbers import number_of

OF_A_COUNTRY = {
    ("FR40303265045", "FR"): "FR40303265045",
    ("40 303 265 045", "FR"): "FR40303265045",
    ("IE1234567FA", "IE"): "IE1234567FA",
    ("EL094259216", "GR"): "EL094259216",
    ("GR 094259216", "GR"): "EL094259216",
    ("094259216", "GR"): "EL094259216",
    ("GB 980 7806 84", "GB"): "GB980780684",
    ("XI 980780684", "GB"): "XI980780684",
    ("DE136695976", "DE"): "DE136695976",
    ("CHE-107.787.577 MWST", "CH"): "CHE107787577MWST",
    ("NO 988 077 917 MVA", "NO"): "NO988077917MVA",
}
OF_NONE = [
    *(("12345", country) for country in ("FR", "DE", "GR", "GB", "IE", "US", "CA", "CH")),
    *(("ABCDE", country) for country in ("FR", "DE", "GR", "GB", "US")),
    *(("IE1234567FA", country) for country in ("FR", "DE", "GR", "GB", "CA", "US", "")),
    *(("FR40303265045", country) for country in ("IE", "DE", "GB", "US", "MC2", "ZZ")),
    *(
        ("FR40303265046", "FR"),
        ("EL094259217", "GR"),
        ("EL094259216", "FR"),
        ("XI980780684", "IE"),
        ("GB980780684", "IE"),
    ),
    *(("", "FR"), ("{x}", "FR"), ("９８０７８０６８４", "GB"), ("4" * 5000, "FR"), ("FR", "FR"), ("EL", "GR")),
]


class NumberOfTest(TestCase):
    def test_a_number_is_one_of_its_own_country_with_or_without_its_prefix(self) -> None:
        for (typed, country), written in OF_A_COUNTRY.items():
            with self.subTest(typed, country=country):
                self.assertEqual(number_of(typed, country), written)

    def test_anything_else_is_no_number_of_the_country(self) -> None:
        for typed, country in OF_NONE:
            with self.subTest(typed[:20], country=country):
                self.assertIsNone(number_of(typed, country))
