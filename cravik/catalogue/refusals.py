"""What is said of what the catalogue does not take: files, access codes, stock, and cells of an imported table."""

from __future__ import annotations

from cravik.core.text.faults.wording import Fields, Words
from cravik.ui.refusals import TABLES


def _stock_changed(fields: Fields) -> str:
    is_now = "not counted" if fields["count"] is None else str(fields["count"])
    return f"It changed since you opened the page: it is {is_now} now. Type it again."


def _columns_unknown(fields: Fields) -> str:
    names = ", ".join(f"“{name}”" for name in fields["names"])
    return f"The first row names columns that are not known: {names}."


FILES: Words = {
    "file_empty": "“{title}” was not taken: it is empty.",
    "file_too_large": "“{title}” was not taken: it has {megabytes:,.0f} MB, and the most is {most} MB.",
    "too_many_files": "“{title}” was not taken: an item has {most} files at most.",
    "file_cut_off": "“{title}” was not taken: it did not arrive whole. Send it once more.",
}
ACCESS_CODES: Words = {
    "access_code_too_long": "Line {line} has {length} characters; the most is {most}.",
    "no_access_codes": "Paste at least one code, each on a line of its own.",
    "too_many_access_codes": "These are {count} codes; the most at once is {most}.",
}
STOCK: Words = {
    "variant_gone": "This variant no longer exists. Load the page again.",
    "stock_changed": _stock_changed,
    "variant_code_taken": "“{code}” is a code of “{item}”.",
    "variant_code_twice": "“{code}” is listed twice.",
}
IMPORTED_TABLES: Words = {
    **TABLES,
    "columns_unknown": _columns_unknown,
    "columns_not_once": "The first row names each column once, “name” among them.",
    "import_under_way": "The last table is still being written. Import this one when it is done.",
}


def _kind_unknown(fields: Fields) -> str:
    return f"It is one of {', '.join(fields['kinds'])}."


VARIANTS: Words = {"too_many_variants": "These options can be combined in {count} ways; the most is {most}."}
CELLS: Words = {
    **VARIANTS,
    "cell_refused": "{trouble}",
    "same_item_twice": "Line {line} is of the same item.",
    "too_many_cells": "The row has more cells than there are columns.",
    "variant_code_of_another": "“{code}” is the code of another item's variant.",
    "variant_codes_alike": "Each variant has a code of its own.",
    "kind_unknown": _kind_unknown,
    "cell_currency_unknown": "That is not a currency code, such as EUR.",
    "too_many_prices": "An item has {most} prices at most.",
    "price_malformed": "A price is an amount and, after a semicolon, a label of up to 60 characters.",
    "price_labels_alike": "Each price has a label of its own.",
    "price_below_zero": "A price can't be below zero.",
    "choice_name_malformed": "Say in up to {most} characters what is chosen, such as Span.",
    "choice_names_alike": "Another group has that name.",
    "options_out_of_range": "A group has from 1 to {most} options.",
    "option_names_alike": "Each option has a name of its own.",
    "option_malformed": "An option is a name (40 characters), what it adds, its grams, its code (20 characters).",
    "variant_unknown": "“{text}” names no variant of the options.",
    "variant_code_too_long": "A code has {most} characters at most.",
    "variants_alike": "Each variant stands here once.",
    "not_a_whole_number": "“{text}” is no whole number up to {most}.",
}
