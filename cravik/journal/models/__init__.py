"""Visits, what was left out of them, and their sums by day."""

from cravik.journal.models.sums import Facet, FieldSum, LateDay, SummedUntil, VisitSum
from cravik.journal.models.visits import Campaign, DaySalt, FieldPath, LeftOut, NetworkMinute, Visit

__all__ = [
    "Campaign",
    "DaySalt",
    "Facet",
    "FieldPath",
    "FieldSum",
    "LateDay",
    "LeftOut",
    "NetworkMinute",
    "SummedUntil",
    "Visit",
    "VisitSum",
]
