"""Template tags and filters for what every screen shows: money, states, ladders, slips."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from babel.dates import format_timedelta
from django import template
from django.http import QueryDict
from django.utils import timezone
from django.utils.safestring import SafeString, mark_safe

from cravik.core.graphics.picture import Picture
from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import Quote
from cravik.core.statistics.ladder import Ladder
from cravik.core.statistics.rates import Rate
from cravik.core.text.countries import country_words
from cravik.core.text.money_text import DEFAULT_LOCALE, format_money, format_money_clearly
from cravik.core.text.results_words import percent_words
from cravik.core.text.slip import kept_rows, slip_rows, total_words
from cravik.ui import framing
from cravik.ui.fields import Part, wrong_fields
from cravik.ui.markdown import rendered
from cravik.ui.pictures import svg
from cravik.ui.timings import lasting

#: So many later payments stand on a slip; more are counted.
LATER_SHOWN = 4

register = template.Library()
register.simple_tag(lasting)


@register.filter
def figures(money: Money, locale: str = DEFAULT_LOCALE) -> str:
    """Money in figures, such as €48.00."""
    return format_money(money, locale)


@register.filter
def clearly(money: Money, locale: str = DEFAULT_LOCALE) -> str:
    """Money in figures, with the currency's code where its sign would leave a doubt: €48.00, $48.00 (USD)."""
    return format_money_clearly(money, locale)


@register.filter
def country(code: str) -> str:
    """A country's English name."""
    return country_words(code)


@register.filter
def markdown(words: str) -> SafeString:
    """A seller's words as safe HTML."""
    return mark_safe(rendered(words))  # noqa: S308  # cleaned by an allow-list


@register.filter
def percent(share: float) -> str:
    """A share from 0 to 1 as a percentage with one decimal."""
    return percent_words(share)


@register.filter
def ago(instant: datetime) -> str:
    """How long ago, in one coarse unit, as one would say it."""
    since = timezone.now() - instant
    if since < timedelta(minutes=1):
        return "just now"
    # A threshold of one keeps to the unit until the next is full; months are days here, as they differ.
    days = timedelta(days=since.days) if since.days else since
    return format_timedelta(-days, granularity="day" if since.days else "minute", threshold=1, add_direction=True)


@register.filter
def stays(path: str, on_page: bool) -> str:
    """The path as it goes on where this page stands: on a page of others, or on its own."""
    return framing.on_page(path) if on_page else path


@register.inclusion_tag("ui/_state.html")
def state(name: str) -> dict[str, object]:
    """A link's state: a shape and a word."""
    return {"name": name}


@register.inclusion_tag("ui/_slip.html")
def slip(quote: Quote, locale: str = DEFAULT_LOCALE, title: str = "", total: str = "To pay") -> dict[str, object]:
    """The itemised sum a buyer sees, and what of it falls due later."""
    rest = len(quote.schedule) - LATER_SHOWN
    return {
        "quote": quote,
        "rows": slip_rows(quote, locale),
        "locale": locale,
        "title": title,
        "total_words": total_words(quote, total),
        "now_words": "Paid then" if total == "Paid" else "Now",
        "later": quote.schedule[:LATER_SHOWN],
        "rest": max(0, rest),
    }


register.simple_tag(kept_rows)


@register.inclusion_tag("ui/_faults.html")
def faults(*parts: Part | list[Part]) -> dict[str, object]:
    """What a form that was not taken says on top: the way to each field that needs another look."""
    found = [wrong_fields(part if isinstance(part, list) else [part]) for part in parts]
    return {"fields": [field for fields in found for field in fields]}


@dataclass(frozen=True)
class Bar:
    """One rung drawn in a picture 198 by 32 units."""

    x: float
    y: float
    height: float
    name: str
    count: int


#: Of the four columns of figures under the bars, whose widths the style sheet has.
_MIDDLES = (22.0, 66.0, 121.2, 176.4)


@register.inclusion_tag("ui/_ladder.html")
def ladder(counts: Ladder) -> dict[str, object]:
    """The four rungs as bars over their figures."""
    most = max(counts.opened, 1)
    named = {"opened": counts.opened, "started": counts.started, "tried to pay": counts.tried, "paid": counts.paid}
    bars = []
    for middle, (name, count) in zip(_MIDDLES, named.items(), strict=True):
        height = max(30 * count / most, 1.5) if count else 0
        bars.append(Bar(x=middle - 20, y=round(31 - height, 2), height=round(height, 2), name=name, count=count))
    return {"bars": bars}


@register.simple_tag
def picture(drawn: Picture) -> SafeString:
    """A picture of the core, to stand on the page."""
    return mark_safe(svg(drawn))  # noqa: S308  # its words are escaped


@register.inclusion_tag("ui/_rate.html")
def rate(conversion: Rate) -> dict[str, object]:
    """A conversion rate with its likely bounds, or that there is too little to tell."""
    return {"rate": conversion}


@register.simple_tag
def with_query(parameters: QueryDict, **changes: object) -> str:
    """The query string of the present page with some parameters changed; empty ones left out."""
    query = parameters.copy()
    for name, value in changes.items():
        if value in ("", None):
            query.pop(name, None)
        else:
            query[name] = str(value)
    return f"?{query.urlencode()}" if query else "?"


@register.simple_tag
def without_part(parameters: QueryDict, name: str) -> str:
    """The query string of the present page without one of its parts."""
    return with_query(parameters, **{name: "", "page": ""})
