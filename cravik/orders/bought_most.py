"""What buyers of a link bought most, for the first case of what its seller asks “what if” of."""

from __future__ import annotations

import json
from collections import Counter

from cravik.checkout.models import CheckoutLine
from cravik.core.documents.data import BasketData
from cravik.links.models import Link
from cravik.orders.models import Order

#: So many of the last orders are looked at.
LOOKED_AT = 200
_PICKED = ("lines", "code", "destination", "plan", "cover_fee")


def bought_most_of(link: Link) -> BasketData | None:
    """The basket that most of the last orders had, as a document without its day; None while nobody bought."""
    last = Order.objects.counted().filter(link=link).order_by("-paid_at").values("checkout_id")[:LOOKED_AT]
    baskets = CheckoutLine.objects.filter(checkout_id__in=last).values_list("basket_document", flat=True)
    counted = Counter(
        json.dumps({name: basket[name] for name in _PICKED if basket.get(name)}, sort_keys=True) for basket in baskets
    )
    if not counted:
        return None
    most: BasketData = json.loads(counted.most_common(1)[0][0])
    return most
