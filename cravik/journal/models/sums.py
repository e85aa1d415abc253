"""Sums of visits by the seller's day and month, kept beside them so that a year is read as quickly as a week.

A day is summed once it has been over for a day, so what still happens to its visits is rare: it leaves a ``LateDay``,
and the day is read from the visits themselves until it is summed again.
"""

from __future__ import annotations

from django.db import models


class Facet(models.TextChoices):
    """By what visits, or money, are told apart."""

    LINK = "link"
    SPOT = "spot"
    CAMPAIGN = "campaign"
    REFERRER = "referrer", "referring site"
    DEVICE = "device"
    VERSION = "version", "version"
    CODE = "code", "discount code"
    LEFT_OUT = "left_out", "what was left out"
    FIELD = "field"


#: Every link of the business together, where else the id of one stands.
ALL_LINKS = 0


class SumKey(models.Model):
    """What a sum is of: a facet's ``value`` on the days of one ``grain``, for one link or for all of a business."""

    class Grain(models.TextChoices):
        DAY = "D"
        MONTH = "M"

    business_id = models.PositiveBigIntegerField()
    link_id = models.PositiveBigIntegerField()
    facet = models.CharField(max_length=8, choices=Facet.choices)
    grain = models.CharField(max_length=1, choices=Grain.choices)
    #: The day, or the first of the month.
    day = models.DateField()
    #: An id, a host, a kind of device; empty where there is none.
    value = models.CharField(max_length=100, blank=True)

    class Meta:
        abstract = True


class VisitSum(SumKey):
    """How many visits reached each rung, and how many of those that paid did so within what time."""

    opened = models.PositiveIntegerField()
    started = models.PositiveIntegerField()
    tried = models.PositiveIntegerField()
    paid = models.PositiveIntegerField()
    pace_30 = models.PositiveIntegerField()
    pace_60 = models.PositiveIntegerField()
    pace_120 = models.PositiveIntegerField()
    pace_300 = models.PositiveIntegerField()
    pace_900 = models.PositiveIntegerField()
    pace_3600 = models.PositiveIntegerField()
    pace_86400 = models.PositiveIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["business_id", "link_id", "facet", "grain", "day", "value"], name="visit_sum_once"
            ),
        ]
        #: Finds a day that is summed again.
        indexes = [models.Index(fields=["business_id", "grain", "day"], name="visit_sum_day")]


class FieldSum(SumKey):
    """How many visits to a link came to a field of its page, left it blank, had it refused, and stopped at it: touched
    it last and never tried to pay."""

    reached = models.PositiveIntegerField()
    blank = models.PositiveIntegerField()
    refused = models.PositiveIntegerField()
    stopped = models.PositiveIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["business_id", "link_id", "facet", "grain", "day", "value"], name="field_sum_once"
            ),
        ]
        #: Finds a day that is summed again.
        indexes = [models.Index(fields=["business_id", "grain", "day"], name="field_sum_day")]


class SummedUntil(models.Model):
    """The first day of a business that is not summed yet (None: none is), in the time zone whose days they are."""

    business_id = models.PositiveBigIntegerField(unique=True)
    time_zone = models.CharField(max_length=40)
    day = models.DateField(null=True)


class LateDay(models.Model):
    """That something happened to a visit that was opened at this instant when its day may have been summed."""

    business_id = models.PositiveBigIntegerField(db_index=True)
    opened_at = models.DateTimeField()
