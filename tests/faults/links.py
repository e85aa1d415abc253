"""Links for the fault tests: something scarce in each, brought in on the command line."""

from __future__ import annotations

import json
from typing import Any, Protocol
from urllib.parse import urlsplit

from tests.running import RunningApplication


def import_published(application: RunningApplication, title: str, price: str = "24.00", **more: Any) -> str:
    """A published link; returns its path. ``line`` and ``offer`` of ``more`` go into the offer, the rest beside it."""
    line = {"key": "thing", "name": title, "price": {"kind": "fixed", "amount": price}} | more.pop("line", {})
    offer = {"format": "cravik.offer/1", "title": title, "currency": "EUR", "lines": [line]} | more.pop("offer", {})
    document = {"format": "cravik.link/1", "name": title, "offer": offer} | more
    address = application.run("link", "import", "-", "--publish", typed=json.dumps(document))
    return urlsplit(address.strip()).path


def tally(application: RunningApplication, path: str) -> tuple[int, int]:
    """How many orders of the link are paid and held, as they are counted."""
    slug = path.strip("/").rpartition("/")[2]
    rows = application.query(
        "SELECT paid, held FROM links_linktally JOIN links_address USING (link_id) WHERE slug = ?", slug
    )
    return (int(rows[0][0]), int(rows[0][1]))


def pieces(application: RunningApplication, path: str) -> dict[str, tuple[int, int]]:
    """How many pieces of each line of the link are paid and held, as they are counted."""
    slug = path.strip("/").rpartition("/")[2]
    rows = application.query(
        "SELECT line, paid, held FROM links_linepieces JOIN links_address USING (link_id) WHERE slug = ?", slug
    )
    return {str(line): (int(paid), int(held)) for line, paid, held in rows}


class Queried(Protocol):
    def query(self, sql: str, *parameters: Any) -> list[tuple[Any, ...]]: ...


def nothing_leaks(application: Queried) -> dict[str, Any]:
    """What has to be empty once everything came to its end: each figure is a number of rows that do not agree."""
    checks = {
        "holds that are still held": "SELECT count(*) FROM payments_hold WHERE state = 'held'",
        "tallies that do not say what the orders say": """
            SELECT count(*) FROM links_linktally t WHERE t.held != 0 OR t.paid !=
            (SELECT count(*) FROM orders_order o WHERE o.link_id = t.link_id AND NOT o.rehearsal)""",
        "codes whose uses are not those of the orders": """
            SELECT count(*) FROM links_linkcode c WHERE c.held != 0 OR c.paid !=
            (SELECT count(*) FROM orders_order o WHERE o.code_id = c.id AND NOT o.rehearsal)""",
        "pieces that are not those of the orders": """
            SELECT count(*) FROM links_linepieces p WHERE p.held != 0 OR p.paid !=
            (SELECT coalesce(sum(l.value ->> 'quantity'), 0) FROM orders_order o
             JOIN checkout_checkoutline c USING (checkout_id), json_each(c.quote_document, '$.lines') l
             WHERE o.link_id = p.link_id AND NOT o.rehearsal AND l.value ->> 'key' = p.line)""",
        "attempts without an end": "SELECT count(*) FROM payments_attempt WHERE state = 'pending'",
        "approved charges without a line in the ledger": """
            SELECT count(*) FROM counter_countercharge c WHERE outcome = 'approved' AND amount_minor > 0 AND NOT EXISTS
            (SELECT 1 FROM payments_movement m WHERE m.gateway_reference = c.reference)""",
        "lines of the ledger without an approved charge": """
            SELECT count(*) FROM payments_movement m WHERE m.kind = 'charge' AND NOT EXISTS
            (SELECT 1 FROM counter_countercharge c WHERE c.reference = m.gateway_reference
             AND c.outcome = 'approved' AND c.amount_minor = m.amount_minor)""",
        "refunds that ledger and counter do not both know": """
            SELECT (SELECT count(*) FROM payments_movement m WHERE m.kind = 'refund' AND NOT EXISTS
            (SELECT 1 FROM counter_counterrefund c WHERE c.reference = m.gateway_reference
             AND c.amount_minor = -m.amount_minor)) + (SELECT count(*) FROM counter_counterrefund c WHERE NOT EXISTS
            (SELECT 1 FROM payments_movement m WHERE c.reference = m.gateway_reference))""",
        "charges of which not what was given back is taken": """
            SELECT count(*) FROM payments_attempt a WHERE a.refunded_minor !=
            (SELECT coalesce(sum(r.amount_minor), 0) FROM payments_refund r WHERE r.charge_id = a.id
             AND r.state != 'refused')""",
        "orders and paid dues that are not told once": """
            SELECT count(*) FROM orders_order o WHERE (SELECT count(*) FROM events_event e WHERE e.order_id = o.id
            AND e.kind = 'order.made') != 1 OR (SELECT coalesce(sum(e.data ->> 'minor'), 0) FROM events_event e
            WHERE e.order_id = o.id AND e.kind = 'due.paid') != (SELECT coalesce(sum(m.amount_minor), 0)
            FROM payments_movement m WHERE m.checkout_id = o.checkout_id AND m.kind = 'charge')""",
        "orders that do not say what moved for them": """
            SELECT count(*) FROM orders_order o WHERE o.taken_minor != (SELECT coalesce(sum(m.amount_minor), 0)
            FROM payments_movement m WHERE m.checkout_id = o.checkout_id)""",
        "movements without an order": """
            SELECT count(*) FROM payments_movement m WHERE NOT EXISTS
            (SELECT 1 FROM orders_order o WHERE o.checkout_id = m.checkout_id)""",
        "dues of which more or less is paid than charges brought": """
            SELECT count(*) FROM payments_due d WHERE d.paid_minor != (SELECT coalesce(sum(l.amount_minor), 0)
            FROM payments_allocation l JOIN payments_attempt a ON a.id = l.attempt_id
            WHERE l.due_id = d.id AND a.state = 'approved')""",
        "charges that are not what they are for": """
            SELECT count(*) FROM payments_attempt a WHERE a.amount_minor !=
            (SELECT coalesce(sum(l.amount_minor), -1) FROM payments_allocation l WHERE l.attempt_id = a.id)""",
        "allocations that are undecided for ever": "SELECT count(*) FROM payments_allocation WHERE undecided",
    }
    found = {what: int(application.query(sql)[0][0]) for what, sql in checks.items()}
    return {what: count for what, count in found.items() if count}
