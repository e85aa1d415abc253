"""Visits, and the salts that make a visitor recognisable for one day and no longer."""

from __future__ import annotations

from django.db import models

from cravik.core.statistics.ladder import Rung


class Campaign(models.Model):
    """What an address said of the campaign that brought a visitor: its ``utm_`` parameters.

    ``query`` is as ``campaigns`` writes and reads it.
    """

    business_id = models.PositiveBigIntegerField()
    query = models.CharField(max_length=1000)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business_id", "query"], name="campaign_once")]


class Visit(models.Model):
    """One person's time on a live link's page, and the furthest rung it reached.

    ``visitor`` is a keyed hash with a salt that is thrown away after its day, and empty where the visitor asks not to
    be told apart; nothing else about the person is kept. The instants are set once each, in the order of the rungs;
    ``last_at`` is the last sign of life, to the minute: after half an hour without one the visit is over.
    """

    class Device(models.TextChoices):
        PHONE = "phone"
        TABLET = "tablet"
        DESK = "desk"

    business_id = models.PositiveBigIntegerField()
    link_id = models.PositiveBigIntegerField()
    #: Where the link was met. Two spots of one link are two visits, whoever sees both.
    spot_id = models.PositiveBigIntegerField()
    visitor = models.CharField(max_length=32)
    campaign = models.ForeignKey(Campaign, null=True, on_delete=models.PROTECT, related_name="+", db_index=False)
    #: The host of the page that led here, without ``www``; empty: none, or one of our own.
    referrer = models.CharField(max_length=100, blank=True)
    device = models.CharField(max_length=6, choices=Device.choices, default=Device.DESK)
    #: The version that was shown, and the discount code of whoever tried to pay with one.
    version_id = models.BigIntegerField(null=True)
    code_id = models.PositiveBigIntegerField(null=True)
    rung = models.PositiveSmallIntegerField(choices=[(rung.value, rung.name.lower()) for rung in Rung])
    opened_at = models.DateTimeField()
    started_at = models.DateTimeField(null=True)
    tried_at = models.DateTimeField(null=True)
    paid_at = models.DateTimeField(null=True)
    last_at = models.DateTimeField()

    class Meta:
        indexes = [
            # Covers the ladders of all links of one business over a period.
            models.Index(fields=["business_id", "opened_at", "link_id", "spot_id", "rung"], name="visit_ladder"),
            # Finds the visit that a reload belongs to.
            models.Index(fields=["spot_id", "visitor", "last_at"], name="visit_again"),
        ]
        constraints = [
            models.CheckConstraint(condition=models.Q(rung__gte=1, rung__lte=4), name="visit_rung_bound"),
            models.CheckConstraint(
                condition=models.Q(rung=4, paid_at__isnull=False) | models.Q(rung__lt=4, paid_at__isnull=True),
                name="visit_paid_has_instant",
            ),
        ]


class FieldPath(models.Model):
    """Which fields of its page a visit came to, by their names; never what was typed.

    ``reached`` those that were touched or passed on the way to the button, ``blank`` those left empty when it was
    pressed, ``refused`` those that were not taken; ``last`` is the one that was touched last.
    """

    visit = models.OneToOneField(Visit, on_delete=models.CASCADE, primary_key=True, related_name="fields")
    business_id = models.PositiveBigIntegerField()
    link_id = models.PositiveBigIntegerField()
    opened_at = models.DateTimeField()
    reached = models.JSONField(default=list)
    blank = models.JSONField(default=list)
    refused = models.JSONField(default=list)
    last = models.CharField(max_length=100, blank=True)

    class Meta:
        indexes = [models.Index(fields=["business_id", "opened_at", "link_id"], name="field_path_period")]


class NetworkMinute(models.Model):
    """How many visits began from one network address in one minute; kept for minutes. The address is a keyed hash."""

    network = models.CharField(max_length=16)
    minute = models.DateTimeField()
    visits = models.PositiveIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["network", "minute"], name="network_minute_once")]


class LeftOut(models.Model):
    """How many visits to a spot began in one minute and were not counted, and why."""

    class Reason(models.TextChoices):
        #: More new visits from one network address than people make.
        CROWD = "crowd", "too many at once from one network"
        ROBOT = "robot", "robots, by a kept list"
        PREVIEW = "preview", "previews that programs show of an address"
        AHEAD = "ahead", "browsers fetching ahead"
        OWN = "own", "your own"
        REHEARSAL = "rehearse", "rehearsals"

    business_id = models.PositiveBigIntegerField()
    link_id = models.PositiveBigIntegerField()
    spot_id = models.PositiveBigIntegerField()
    minute = models.DateTimeField()
    reason = models.CharField(max_length=8, choices=Reason.choices)
    visits = models.PositiveIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["spot_id", "minute", "reason"], name="left_out_once")]
        indexes = [models.Index(fields=["business_id", "minute"], name="left_out_period")]


class DaySalt(models.Model):
    """The random key of one UTC day's visitor hashes. Only today's and yesterday's are kept."""

    day = models.DateField(unique=True)
    salt = models.BinaryField(max_length=32)
