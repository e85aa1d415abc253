"""The counter's own books: the cards it knows, the charges it made, and its log."""

from __future__ import annotations

from django.db import models


class CounterCard(models.Model):
    """A made-up card. The first digit 9 belongs to no payment network, so it is nobody's."""

    class Conduct(models.TextChoices):
        APPROVE = "approve"
        DECLINE = "decline"
        #: Approves after some seconds.
        DAWDLE = "dawdle"
        #: Approves, but the answer is lost on its way back.
        FALL_SILENT = "fall_silent"

    number = models.CharField(max_length=16, unique=True)
    conduct = models.CharField(max_length=12, choices=Conduct.choices)
    reason = models.CharField(max_length=32, blank=True)
    label = models.CharField(max_length=80)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position"]


class CounterCharge(models.Model):
    """What the counter decided about one key. A key is decided once and for ever."""

    class Outcome(models.TextChoices):
        APPROVED = "approved"
        DECLINED = "declined"
        #: Asked to forget the key before it had been charged: it never will be.
        CLOSED = "closed"

    key = models.CharField(max_length=64, unique=True)
    reference = models.CharField(max_length=40, unique=True)
    outcome = models.CharField(max_length=8, choices=Outcome.choices)
    reason = models.CharField(max_length=32, blank=True)
    account = models.CharField(max_length=40, blank=True)
    amount_minor = models.PositiveBigIntegerField(default=0)
    currency = models.CharField(max_length=3, blank=True)
    card_ending = models.CharField(max_length=4, blank=True)
    statement_text = models.CharField(max_length=22, blank=True)
    rehearsal = models.BooleanField(default=False)
    decided_at = models.DateTimeField()


class CounterRefund(models.Model):
    """What the counter gave back of a charge, once a key."""

    key = models.CharField(max_length=64, unique=True)
    reference = models.CharField(max_length=40, unique=True)
    charge = models.ForeignKey(CounterCharge, on_delete=models.PROTECT, related_name="refunds")
    amount_minor = models.PositiveBigIntegerField()
    decided_at = models.DateTimeField()


class CounterEntry(models.Model):
    """A line of the counter's log: what it was asked, and what it said."""

    charge = models.ForeignKey(CounterCharge, on_delete=models.PROTECT, related_name="entries")
    what = models.CharField(max_length=120)
    at = models.DateTimeField()
