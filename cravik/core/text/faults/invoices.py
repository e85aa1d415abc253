"""Why a document cannot be said in the terms of EN 16931."""

from __future__ import annotations

from cravik.core.text.faults.wording import Words

WORDS: Words = {
    "structured_receipt": "A receipt is no invoice: the standard knows invoices and credit notes.",
    "structured_final": "It takes a prepayment off with the tax in it, which the standard cannot say.",
    "structured_digits": "{currency} has more than two decimals, and the standard has two.",
    "structured_country": "The standard is about value added tax, which your country does not have.",
    "structured_buyer_country": "The buyer's country is not known.",
    "structured_two_taxes": "Something in it is taxed by two rates at once, and the standard has one for a line.",
    "structured_seller_number": "Your tax number is missing. Set it under The business.",
    "structured_buyer_number": "The buyer's tax number is missing.",
    "structured_exempt": "Something in it has no tax, and nothing says why. Write a sentence under Documents in Setup.",
}
