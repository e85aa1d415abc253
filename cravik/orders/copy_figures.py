"""What a back-up says of orders and money, so that somebody who looks knows which one they hold."""

from __future__ import annotations

from cravik.upkeep.archive.manifest import Copy


def orders_and_money(copy: Copy) -> dict[str, int]:
    """How many orders, and what the ledger comes to in each currency, in minor units. Rehearsals are not among them."""
    orders = copy.rows("SELECT count(*) FROM orders_order WHERE NOT rehearsal")
    money = copy.rows("SELECT currency, sum(amount_minor) FROM payments_movement WHERE NOT rehearsal GROUP BY currency")
    figures = {f"taken {currency}": total for currency, total in money}
    return figures | ({"orders": orders[0][0]} if orders else {})
