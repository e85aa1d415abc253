"""What is said of a document that cannot be read as what it should be."""

from __future__ import annotations

from cravik.core.english import listed
from cravik.core.text.faults.wording import Fields, Words


def _placeholder_unknown(fields: Fields) -> str:
    names = fields["known"]
    known = listed([f"“{{{name}}}”" for name in names], "and")
    return f"“{{{fields['placeholder']}}}” means nothing here; {known} {'do' if len(names) > 1 else 'does'}."


def _not_json(fields: Fields) -> str:
    place = f" (line {fields['line']}, column {fields['column']})" if "line" in fields else ""
    return f"The document is no JSON: {fields['trouble']}{place}."


def _number_too_long(fields: Fields) -> str:
    which = f"The number {fields['text']}…" if "text" in fields else "A number"
    return f"{which} has more than {fields['most']} digits."


WORDS: Words = {
    # What the library of documents says itself of a value of another type or length.
    "invalid_document": "{trouble}.",
    "unknown_key": "“{key}” is not known here.",
    "missing": "“{key}” is missing.",
    # Its text
    "document_too_long": "The document is longer than {most} bytes.",
    "half_a_character": "The document has half a character in it (a lone surrogate).",
    "not_utf_8": "The document is not written in UTF-8.",
    "key_twice": "The key “{key}” stands twice in one object.",
    "nested_too_deep": "The document is nested deeper than {most} levels.",
    "number_too_long": _number_too_long,
    "not_a_number": "{text} is no number in JSON.",
    "not_json": _not_json,
    "row_too_long": "The line is over {most} bytes.",
    "not_a_case": "A case is a JSON object with id, offer and basket.",
    # Single values
    "amount_not_text": 'An amount is a JSON string, such as "24.00".',
    "amount_below_zero": "An amount can't be below zero.",
    "percent_not_text": 'A percentage is a JSON string, such as "9.975".',
    "day_malformed": 'A day is written like "2026-11-23".',
    "instant_malformed": 'An instant is written with its offset, like "2026-11-23T09:00:00+00:00".',
    "year_out_of_range": "The year lies between 1900 and 2999.",
    "country_malformed": "A country is two capital letters of ISO 3166-1, such as IE.",
    "colour_malformed": "“{text}” is no colour such as #a63a28.",
    "web_address_malformed": "This is an https address, such as https://your-site.example/thanks.",
    "placeholder_unknown": _placeholder_unknown,
    # Lists and bounds
    "stands_twice": "Each {what} stands here once.",
    "first_from": "The first one is from {first}.",
    "not_ascending": "Each one starts higher than the one before.",
    "most_below_least": "The most is not below the least.",
    "below_least": "This is below the least, {least.major}.",
    "above_most": "This is above the most, {most.major}.",
    "default_out_of_bounds": "What stands there at first lies within the bounds.",
    "bound_not_a_number": 'A bound is a number, such as 3 or "0.5".',
    "bound_malformed": "“{text}” is no number.",
    "bound_too_long": "A bound has at most {digits} digits and {decimals} decimals.",
    # Lines and their prices
    "line_unknown": "The offer has no line “{key}”.",
    "bundle_not_larger": "Each bundle has more pieces than the one before.",
    "bundle_saves_nothing": "{count} cost {singly.major} singly; a bundle of them costs less.",
    "too_many_in_bundles": "At a price in bundles the most is {most} or fewer.",
    "adds_not_taken": "Options add to a fixed price or a price by quantity only.",
    "unit_below_zero": "Some choice of options brings the price of a unit below zero.",
    # Plans
    "plan_too_long": "Payments over more than {years} years cannot be planned.",
    "trial_twice": "A trial is so many days, or so many months, not both.",
    "first_payments_too_many": "The plan has {payments} payments, so {most} at the most can be at a first price.",
    "deposit_not_one_of_two": "A deposit is either a percentage or an amount.",
    "rest_not_one_of_two": "The rest is due either after so many days, or on a day.",
    "nothing_repeats": "Every line is charged once, so nothing repeats.",
    "first_price_of_once": "“{line}” is charged once, so it has no first price.",
    "plan_price_not_fixed": "A plan has a price of its own for lines with a fixed price only.",
    # Terms
    "code_to_price_not_fixed": "A code to a price is for a line with a fixed price.",
    "fee_of_everything": "A fee of all that is paid cannot be covered by paying more.",
    # What stands around an offer
    "step_never_reached": "A step says after how many orders or pieces it holds, or from when.",
    "step_counts_both": "A step comes after so many orders or after so many pieces, not after both.",
    "followed_and_own": "The link follows Setup for “{subject}”, so it has none of its own.",
    "code_of_no_offer": "The offer has no code “{code}”.",
}
