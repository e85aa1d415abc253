"""What a careful friend says of an offer, and what the buttons say that mend it."""

from __future__ import annotations

from cravik.core.english import listed
from cravik.core.pricing.money import Money
from cravik.core.text.faults.wording import Fields, Words, formatted
from cravik.core.text.money_text import format_money


def _minimum_leaves_nothing(fields: Fields) -> str:
    words = "A buyer may pay as little as {amount} for “{line}”, of which nothing is left: the fee is {fee}."
    return formatted(words + (" From {enough} on, something is left." if fields["enough"] is not None else ""), fields)


def _delivery_not_charged(fields: Fields) -> str:
    names = fields["lines"]
    are = "is" if len(names) == 1 else "are"
    return f"{listed([f'“{name}”' for name in names], 'and')} {are} sent, and nothing is charged for delivery."


def _enough_asked(fields: Fields) -> str:
    return f"Ask for {format_money(Money(fields['minor'], fields['currency']))} at least"


WORDS: Words = {
    "was_not_higher": "“{line}” was {was.major} and is {amount.major} now: the former price is not higher.",
    "nothing_left": "Of {amount} for “{line}” nothing is left: the fee is {fee}.",
    "minimum_leaves_nothing": _minimum_leaves_nothing,
    "level_nobody_takes": (
        "“{lower}” is listed before “{higher}” and costs more ({lower_costs.major} against {higher_costs}):"
        " listed as less, nobody would choose it."
    ),
    "more_for_less": "{more} cost {more_costs}, {fewer} cost {fewer_costs}.",
    "more_for_less_with_options": "{more} cost {more_costs}, {fewer} cost {fewer_costs} with the cheapest options.",
    "break_out_of_reach": "The price from {count} on is never reached: the most of “{line}” is {most}.",
    "bundle_out_of_reach": "A bundle of {count} is never reached: the most of “{line}” is {most}.",
    "bundle_never_used": "{count} cost {least} in smaller bundles, so nobody pays {amount} for them.",
    "pack_never_full": (
        "A pack of “{line}” holds {size}, and the most that can be bought is {most}: every buyer pays for a whole pack."
    ),
    "once_means_nothing": "“{line}” is charged once, and so is everything else.",
    "no_choice": "“{choice}” asks the buyer to choose, and has only “{option}”.",
    "deposit_above_smallest_total": (
        "The deposit is {deposit}, and the smallest order comes to {smallest}: all of it would be paid at once."
    ),
    "code_never_counts": "{code} ends on {ends_on}, before it starts on {starts_on}.",
    "code_makes_free": "An order of {amount} costs nothing with {code}, which takes {taken} off (delivery aside).",
    "code_takes_no_percent": "{code} takes 0 % off.",
    "code_takes_no_amount": "{code} takes {amount.major} off.",
    "code_to_higher_price": "{code} brings “{line}” to {to.major}, and it costs {now.major} already.",
    "code_frees_free_delivery": "{code} makes delivery free, and nothing is charged for it.",
    "code_loses_free_delivery": (
        "An order of {worth} is sent free to “{zone}”. {code} takes {off} off, and delivery then costs {charge}:"
        " it becomes dearer."
    ),
    "delivery_not_charged": _delivery_not_charged,
    "delivery_of_nothing": "Delivery has zones, and no line of the offer is sent.",
    "weight_missing": "Delivery is charged by weight, and “{line}” weighs 0 g.",
    "free_anyway": "“{zone}” is free from {free_from.major} on, and costs 0 below that, too.",
    "zone_out_of_reach": (
        "No order is ever sent by “{zone}”: {countries:country} is served by {others:quoted} before it."
    ),
    "tax_not_at_home": "There is no rate for {country:country}, where the seller is.",
    "category_not_taxed": "No rate names “{category}”, so “{line}” is never taxed.",
    "never_open": "It closes at {closes_at}, before it opens at {opens_at}.",
}

#: By what the mend does.
MENDS: Words = {
    "former_price_dropped": "Drop the former price",
    "levels_in_order": "Put the levels in the order of their prices",
    "each_piece_priced": "Price each piece at the step that it falls in",
    "break_in_reach": "Let buyers take up to {count}",
    "whole_pack": "Let buyers take a whole pack of {count}",
    "enough_asked": _enough_asked,
    "charged_like_the_rest": "Charge it like everything else",
    "choice_dropped": "Drop the choice",
    "days_swapped": "Swap the two days",
    "instants_swapped": "Swap the two",
    "code_removed": "Remove {code}",
    "zone_removed": "Remove “{zone}”",
    "free_from_dropped": "Drop the bound",
    "delivery_dropped": "Drop the charges for delivery",
    "taxed_as_usual": "Tax it as usual",
    "asked_at_once": "Ask for all of it at once",
}
