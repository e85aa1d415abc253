"""Refunds."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.pricing.money import Money
from cravik.payments.models.attempt import Attempt
from cravik.people.acted import ActedBy


class Refund(ActedBy):
    """Giving back a sum of one charge, recorded before the gateway is asked and again after.

    ``key`` is the idempotency key that the gateway is asked with, however often. What is asked for is taken from what
    is left of the charge at once (``Attempt.refunded_minor``), so that all refunds of a charge come to no more than it.
    """

    class State(models.TextChoices):
        PENDING = "pending"
        DONE = "done"
        #: The gateway said that it never will; ``reason`` says why.
        REFUSED = "refused"

    charge = models.ForeignKey(Attempt, on_delete=models.PROTECT, related_name="refunds")
    key = models.CharField(max_length=64, unique=True)
    state = models.CharField(max_length=7, choices=State.choices, default=State.PENDING)
    reason = models.CharField(max_length=32, blank=True)
    #: What the seller says of it to the buyer, and why it is given back, as its document says.
    note = models.CharField(max_length=300, blank=True)
    why = models.CharField(max_length=120, blank=True, default="")
    #: How much of each part of the payment goes back, and how many pieces of its lines by key, where it was said in
    #: pieces; see ``RefundShares``.
    shares = models.JSONField(default=dict)
    pieces = models.JSONField(default=dict)
    #: What of the processor's fee comes back with it.
    fee_minor = models.PositiveBigIntegerField(default=0)
    #: Whether its pieces go back into stock, and their places are free again.
    restocks = models.BooleanField(default=False)
    frees_places = models.BooleanField(default=False)
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    gateway_reference = models.CharField(max_length=40, blank=True)
    begun_at = models.DateTimeField()
    answered_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(state="pending", answered_at__isnull=True)
                | (~Q(state="pending") & Q(answered_at__isnull=False)),
                name="refund_answer_has_instant",
            ),
            models.CheckConstraint(condition=Q(amount_minor__gt=0), name="refund_above_zero"),
        ]
        indexes = [models.Index(fields=["begun_at"], condition=Q(state="pending"), name="refund_pending")]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)
