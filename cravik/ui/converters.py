"""What stands for a row in an address."""

from __future__ import annotations

from django.urls import converters


class IdConverter(converters.IntConverter):
    """A row's id, or an order's number: of at most 18 digits, so that every database can look for it. Anything longer
    is no address at all."""

    regex = "[0-9]{1,18}"
