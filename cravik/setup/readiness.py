"""What is still missing before money can be asked for without a worry. Nothing of it blocks a first try."""

from __future__ import annotations

from dataclasses import dataclass

from django.urls import reverse

from cravik.core.english import listed
from cravik.people.models import Business
from cravik.setup.defaults import Subject, decisions_of
from cravik.upkeep.hooks import Hook


@dataclass(frozen=True)
class ReadinessStep:
    """One line of the list: what, whether it is done, why it matters, and where it is done."""

    title: str
    is_done: bool
    words: str
    address: str


#: Asked what stands between a business and asking for money.
readiness: Hook[[Business], list[ReadinessStep]] = Hook("cravik.setup.readiness.readiness")


def steps_of(business: Business) -> list[ReadinessStep]:
    """The whole list, from every app that has something to say of it."""
    return [step for steps in readiness.call(business) for step in steps]


def steps_of_setup(business: Business) -> list[ReadinessStep]:
    """What Setup itself can tell."""
    decisions = decisions_of(business)
    tax = decisions[Subject.TAX].defaults.tax
    lacking = [
        what for what, there in (("address", business.address), ("tax number", business.tax_number)) if not there
    ]
    return [
        ReadinessStep(
            "Who you are",
            is_done=not (tax and tax.rates and lacking),
            words=f"Receipts with tax need your {listed(lacking, 'and')}."
            if tax and tax.rates and lacking
            else "Name, contact, country, currency and the words on statements are there.",
            address=reverse("setup:business"),
        ),
        ReadinessStep(
            "Tax",
            is_done=decisions[Subject.TAX].is_made,
            words="Set." if decisions[Subject.TAX].is_made else "Say whether you charge any. Until then none is.",
            address=reverse("setup:decision", args=[Subject.TAX]),
        ),
        ReadinessStep(
            "The processor's fee",
            is_done=decisions[Subject.FEE].is_made,
            words="Set."
            if decisions[Subject.FEE].is_made
            else "Check it against your processor's price list: “Left for you” is worked out from it.",
            address=reverse("setup:decision", args=[Subject.FEE]),
        ),
    ]
