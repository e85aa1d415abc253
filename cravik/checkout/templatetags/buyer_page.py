"""For the templates of the buyer's page."""

from __future__ import annotations

from dataclasses import replace

from django import template

from cravik.checkout.pages.page import Page
from cravik.checkout.parts.plan import PlanOption, PlanPart
from cravik.checkout.refusals import refusal_words
from cravik.core.errors import Fault
from cravik.core.pricing.offer import Line, Offer
from cravik.core.text.price_words import price_in_words

register = template.Library()


@register.simple_tag
def line_price(offer: Offer, line: Line, locale: str) -> str:
    """What one line of the offer costs, in words."""
    return price_in_words(replace(offer, lines=(replace(line, optional=False),), window=None), locale)


@register.simple_tag
def refusal(fault: Fault, currency: str, locale: str) -> str:
    """What a buyer reads of a refusal that stands at no field."""
    return refusal_words(fault, currency, locale)


@register.simple_tag
def plan_options(part: PlanPart, page: Page) -> list[PlanOption]:
    """The plans to pick from, with what each costs for what is picked."""
    return part.options(page.picked)
