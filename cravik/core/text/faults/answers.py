"""What is said of an answer to a seller's question, a postcode or a tax number that is not accepted."""

from __future__ import annotations

from cravik.core.english import counted, listed
from cravik.core.text.faults.wording import Fields, Words


def _too_short(fields: Fields) -> str:
    return f"Write at least {counted(fields['limit'], 'character', 'characters')}; there are {fields['length']}."


def _too_long(fields: Fields) -> str:
    return f"The most is {counted(fields['limit'], 'character', 'characters')}; there are {fields['length']:,}."


def _not_offered(fields: Fields) -> str:
    names = fields["answers"]
    are = "is" if len(names) == 1 else "are"
    return f"{listed([f'“{name}”' for name in names], 'and')} {are} not among the answers."


def _postcode_missing(fields: Fields) -> str:
    return f"Write the postcode, such as {fields['example']}." if fields["example"] else "Write the postcode."


def _postcode_malformed(fields: Fields) -> str:
    looks = f" It looks like {fields['example']} there." if fields["example"] else ""
    return f"“{fields['postcode']}” is not a postcode of that country.{looks}"


WORDS: Words = {
    "answer_missing": "This question needs an answer.",
    "agreement_missing": "You have to agree to this.",
    "answer_not_asked": "Nothing is asked by the name “{key}”.",
    "answer_not_single": "Only one answer is wanted here.",
    "answer_too_short": _too_short,
    "answer_too_long": _too_long,
    "answer_no_number": "Write a number, such as {example}.",
    "answer_not_whole": "Write a whole number.",
    "answer_below_least": "The least is {limit}.",
    "answer_above_most": "The most is {limit}.",
    "answer_not_offered": _not_offered,
    "answer_too_few": "Choose at least {limit}.",
    "answer_too_many": "Choose at most {limit}.",
    "answer_neither_yes_nor_no": "Answer with yes or no.",
    "answer_no_day": "Write a day as year, month and day, such as 2026-12-24.",
    "answer_too_early": "The earliest is {day}.",
    "answer_too_late": "The latest is {day}.",
    "postcode_missing": _postcode_missing,
    "postcode_malformed": _postcode_malformed,
    "tax_number_malformed": "A tax number has 5 to 20 letters and digits, such as IE1234567FA.",
    "tax_number_mistyped": "This tax number has a typing mistake: it doesn't fit its country's rule.",
}
