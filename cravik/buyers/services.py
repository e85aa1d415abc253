"""The row of whoever orders."""

from __future__ import annotations

from datetime import datetime

from cravik.buyers.models import Buyer
from cravik.upkeep.prepared import Param, PreparedSelect, PreparedUpdate, insert

_KNOWN = PreparedSelect(
    lambda: Buyer.objects.filter(business_id=Param("business_id"), key=Param("key")).values_list("id", "email", "name")
)
_CALLED = PreparedUpdate(lambda: Buyer.objects.filter(id=Param("buyer")), email=Param("email"), name=Param("name"))


def buyer_who_orders(business_id: int, key: str, email: str, name: str, now: datetime) -> int:
    """The id of the business's buyer with that key, made if this is their first order, and called as they call
    themselves now.

    In the transaction that makes the order, once it has the order's number: until it ends, nobody else makes an order
    of the business, or a buyer.
    """
    found = _KNOWN.first(business_id=business_id, key=key)
    if found is None:
        return int(insert(Buyer(business_id=business_id, key=key, email=email, name=name, made_at=now)).pk)
    if found[1:] != (email, name):
        _CALLED.run(buyer=found[0], email=email, name=name)
    return int(found[0])
