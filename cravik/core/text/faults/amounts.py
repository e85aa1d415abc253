"""What is said of an amount, a percentage or a change of prices that cannot be read."""

from __future__ import annotations

from cravik.core.text.faults.wording import Fields, Words


def _missing(fields: Fields) -> str:
    return f"Write an amount, such as {_example(fields)}." if "digits" in fields else "Write an amount."


def _too_long(fields: Fields) -> str:
    return f"That is too long for an amount. Write it like {_example(fields)}."


def _malformed(fields: Fields) -> str:
    return f"“{fields['text']}” is no amount. Write it like {_example(fields)}."


def _too_exact(fields: Fields) -> str:
    return f"{fields['currency']} {_decimals(fields)}, so {fields['text']} cannot be charged."


def _ambiguous(fields: Fields) -> str:
    larger, smaller = fields["larger"], fields["smaller"]
    return (
        f"{fields['text']} can be read in two ways, and {fields['currency']} {_decimals(fields)}."
        f" Write {larger} for the larger sum, {smaller} for the smaller."
    )


def _example(fields: Fields) -> str:
    return f"24.{'0' * fields['digits']}" if fields["digits"] else "2400"


def _decimals(fields: Fields) -> str:
    return f"has {fields['digits']} decimals" if fields["digits"] else "has no decimals"


WORDS: Words = {
    "amount_missing": _missing,
    "amount_malformed": "'{text}' is no amount such as \"24.00\".",
    "typed_amount_malformed": _malformed,
    "amount_too_long": _too_long,
    "amount_other_currency": "The amount says {said}, but the currency chosen is {currency}.",
    "amount_negative": "The amount has to be above zero.",
    "amount_zero": "The amount has to be above zero.",
    "amount_precision": "{currency} has {digits} decimals, {text} has {decimals}.",
    "typed_amount_precision": _too_exact,
    "amount_ambiguous": _ambiguous,
    "amount_too_large": "{text} {currency} is more than can be charged.",
    "typed_amount_too_large": "That is more than can be charged. The most is {most}.",
    "currency_unknown": "“{text}” is no currency code of ISO 4217, such as EUR.",
    "currency_mixed": "The offer is in {currency}, and some amount of it in {others}.",
    "percent_malformed": "“{text}” is no percentage from 0 to 100 with up to 4 decimals.",
    "change_malformed": "Write how much, such as 5 %, -10 % or +2.00.",
    "in_another_currency": "It is in {currency}.",
    "nothing_left_of_price": "Nothing would be left of it.",
    "no_such_ending": "{currency} has no amounts that end so.",
    "bundle_no_cheaper": "A bundle would cost no less than its pieces do singly.",
    "price_of_buyer": "The buyer says how much.",
    "change_out_of_range": "A percentage has to be above -100 and at most {most}.",
}
