"""The worked offers that the quick tests leave out, through the whole application."""

from __future__ import annotations

from tests import test_worked_offers as quick


class FirstRestTest(quick.WorkedOffers):
    cases = quick.REST[0::2]


class SecondRestTest(quick.WorkedOffers):
    cases = quick.REST[1::2]
