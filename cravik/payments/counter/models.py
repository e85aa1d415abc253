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
        #: Asks the card's holder on the bank's page first.
        CHECK = "check"
        #: Says that the bank has not answered; it approves by itself some time later.
        LATE = "late"
        #: Says so, and the bank never answers.
        NEVER = "never"
        #: Approves, and tells it twice more.
        TWICE = "twice"
        #: Approve as they are typed; charged later, once they are kept, they decline, ask first, or are another card.
        FAIL_LATER = "fail_later"
        CHECK_LATER = "check_later"
        REPLACED = "replaced"

    number = models.CharField(max_length=16, unique=True)
    conduct = models.CharField(max_length=12, choices=Conduct.choices)
    reason = models.CharField(max_length=32, blank=True)
    label = models.CharField(max_length=80)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position"]


class CounterCharge(models.Model):
    """What the counter decided about one key. A key is decided once and for ever; until then it is open."""

    class Outcome(models.TextChoices):
        APPROVED = "approved"
        DECLINED = "declined"
        OPEN = "open"
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
    #: Whether the bank asks the holder, and where its page leads afterwards.
    check_wanted = models.BooleanField(default=False)
    return_address = models.CharField(max_length=500, blank=True)
    #: Whether the card is kept once it is approved.
    keep = models.BooleanField(default=False)
    #: When the bank approves by itself.
    approves_at = models.DateTimeField(null=True)
    #: When it was decided, or asked for where it is open.
    decided_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["approves_at"], condition=models.Q(outcome="open"), name="counter_open")]


class CounterKept(models.Model):
    """A card that is kept for an account, by the ``token`` that it was given with the approval."""

    charge = models.OneToOneField(CounterCharge, on_delete=models.PROTECT, related_name="kept")
    token = models.CharField(max_length=64, unique=True)
    number = models.CharField(max_length=16)
    expiry_month = models.PositiveSmallIntegerField()
    expiry_year = models.PositiveSmallIntegerField()


class CounterNotice(models.Model):
    """What the counter tells of a charge by itself, until it is acknowledged."""

    charge = models.ForeignKey(CounterCharge, on_delete=models.PROTECT, related_name="notices")
    acknowledged_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["id"], condition=models.Q(acknowledged_at__isnull=True), name="counter_untold")]


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
