"""What is said of a basket that an offer does not allow, where documents and sellers are told; the buyer's page has
words of its own for most of it."""

from __future__ import annotations

from cravik.core.text.faults.wording import Words

WORDS: Words = {
    "unknown_in_basket": "“{key}” is not known in a basket.",
    "repeated_line": "“{key}” is in the basket twice.",
    "unknown_line": "The offer has no line “{key}”.",
    "nothing_chosen": "Nothing is in the basket. Choose at least one thing.",
    "quantity_below_minimum": "The least of “{line}” is {limit}.",
    "quantity_above_maximum": "The most of “{line}” is {limit}.",
    "line_sum_above_maximum": "So many of “{line}” come to more than {most}, the most that can be charged.",
    "sum_above_maximum": "That is more than can be charged, {most}.",
    "option_missing": "Choose {choice} for “{line}”.",
    "option_unknown": "“{line}” has no {choice} “{option}”.",
    "choice_unknown": "“{line}” has no choice “{choice}”.",
    "level_missing": "Choose one of the levels of “{line}”.",
    "level_unknown": "“{line}” has no level “{level}”.",
    "no_levels": "“{line}” has no levels to choose from.",
    "line_amount_missing": "Enter an amount for “{line}”.",
    "amount_not_wanted": "The price of “{line}” is not the buyer's choice.",
    "amount_below_minimum": "The least is {bound}.",
    "amount_above_maximum": "The most is {bound}.",
    "pay_now_not_wanted": "What is paid now is not the buyer's choice.",
    "pay_now_below_deposit": "The least to pay now is {bound}.",
    "pay_now_above_total": "The most to pay now is {bound}.",
    "cover_not_offered": "This offer does not ask buyers to cover the fee.",
    "code_unknown": "“{code}” is no code of this offer.",
    "code_not_started": "{code} counts from {day} on.",
    "code_ended": "{code} counted until {day}.",
    "code_not_eligible": "{code} counts for nothing in the basket.",
    "code_below_minimum": "{code} counts from {least} on.",
    "destination_missing": "Say where to send it.",
    "destination_not_served": "This is not sent to {country}.",
    "parcel_too_heavy": "The parcel weighs {weight_g} g, and the most that is sent to “{zone}” is {limit} g.",
    "plan_missing": "Choose when to pay.",
    "plan_unknown": "This offer has no plan “{plan}”.",
    "no_plans": "This offer has no plans to choose from.",
    "not_open_yet": "This opens at {instant}.",
    "closed": "This closed at {instant}.",
}
