"""The row of whoever orders."""

from __future__ import annotations

from datetime import datetime

from django.db import connection

from cravik.buyers.models import Buyer


def buyer_who_orders(business_id: int, key: str, email: str, name: str, now: datetime) -> int:
    """The id of the business's buyer with that key, made if this is their first order, and called as they call
    themselves now. In the transaction that makes the order."""
    with connection.cursor() as cursor:
        made_at = connection.ops.adapt_datetimefield_value(now)
        cursor.execute(_CALLED_SO, (business_id, key, email, name, made_at))
        return int(cursor.fetchone()[0])


#: One statement, since it stands on the way of every payment.
_CALLED_SO = (
    f"INSERT INTO {Buyer._meta.db_table} (business_id, key, email, name, made_at) VALUES (%s, %s, %s, %s, %s)"  # noqa: S608
    " ON CONFLICT (business_id, key) DO UPDATE SET email = excluded.email, name = excluded.name RETURNING id"
)
