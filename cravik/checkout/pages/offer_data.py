"""What a page says of its offer to machines, in the words of schema.org (Product, Offer, AggregateOffer) as JSON-LD.

The script element that holds it is a data block (HTML, 4.12.1): no browser runs it.
"""

from __future__ import annotations

import json
from typing import Any

from django.utils.safestring import SafeString, mark_safe

from cravik.core.link.closing import closes_at
from cravik.core.link.content import LinkContent
from cravik.core.pricing.offer import Offer
from cravik.core.text.price_words import price_span

_ESCAPED = {ord("<"): "\\u003c", ord(">"): "\\u003e", ord("&"): "\\u0026"}


def offer_data(
    content: LinkContent, offer: Offer, *, seller: str, address: str, words: str, picture: str
) -> SafeString:
    """The data block. Prices are those of the smallest order, before delivery; taxes are said to be in them or not."""
    schema = {
        "@context": "https://schema.org",
        "@type": "Product",
        "name": offer.title,
        "description": words,
        "image": picture,
        "url": address,
        "offers": _offers(content, offer) | {"url": address, "seller": {"@type": "Organization", "name": seller}},
    }
    block = json.dumps({name: value for name, value in schema.items() if value}, ensure_ascii=False)
    return mark_safe(block.translate(_ESCAPED))  # noqa: S308  # nothing in it ends the element


def _offers(content: LinkContent, offer: Offer) -> dict[str, Any]:
    span = price_span(offer)
    schema: dict[str, Any] = {"priceCurrency": offer.currency, "availability": "https://schema.org/InStock"}
    if span.most == span.least:
        schema |= {"@type": "Offer", "price": span.least.major}
    else:
        schema |= {"@type": "AggregateOffer", "lowPrice": span.least.major}
        schema |= {"highPrice": span.most.major} if span.most else {}
    closes = closes_at(content)
    if closes:
        schema["availabilityEnds"] = closes.isoformat()
    if offer.tax is not None and offer.tax.rates and span.most == span.least:
        specified = {"@type": "PriceSpecification", "price": span.least.major, "priceCurrency": offer.currency}
        schema["priceSpecification"] = specified | {"valueAddedTaxIncluded": offer.tax.prices_include_tax}
    return schema
