"""What runs, as CSV (RFC 4180), a row an agreement; days are the seller's."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from django.db.models import QuerySet
from django.http import StreamingHttpResponse

from cravik.orders.running.listing import rows_of
from cravik.payments.models import Agreement
from cravik.people.models import Business
from cravik.ui.spreadsheets import as_text, csv_response

_HEAD = ["order", "thing", "buyer_name", "buyer_email", "state", "why", "plan", "since", "next_on", "next_sum"]
_HEAD += ["currency", "in_arrears", "paid", "to_come", "why_stopped"]
_AT_ONCE = 500


def as_csv(found: QuerySet[Agreement], business: Business, now: datetime) -> StreamingHttpResponse:
    """The agreements in the order of the list, streamed; what has no end has nothing under ``to_come``."""

    def rows() -> Iterator[list[object]]:
        ids = list(found.values_list("id", flat=True))
        for start in range(0, len(ids), _AT_ONCE):
            part = Agreement.objects.in_bulk(ids[start : start + _AT_ONCE])
            for row in rows_of([part[pk] for pk in ids[start : start + _AT_ONCE] if pk in part], business, now):
                agreement, order = row.agreement, row.order
                yield [
                    *(order.number, as_text(order.title), as_text(order.buyer_name), as_text(order.buyer_email)),
                    *(row.state, row.why, row.plan, agreement.begins_on.isoformat()),
                    *((row.next.on.isoformat(), row.next.left.major) if row.next else ("", "")),
                    *(agreement.currency, row.owed.major, row.paid.major),
                    *(row.to_come.major if row.to_come is not None else "", as_text(agreement.stop_words)),
                ]

    return csv_response("running.csv", _HEAD, rows())
