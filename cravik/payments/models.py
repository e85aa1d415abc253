"""Attempts at paying a checkout."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.money import Money


class Attempt(models.Model):
    """One try at charging a card, recorded before the gateway is called and again after.

    ``key`` is the idempotency key that the gateway is called with. A checkout has at most one
    attempt that is pending or approved: the database itself refuses a second charge.
    """

    class State(models.TextChoices):
        PENDING = "pending"
        APPROVED = "approved"
        DECLINED = "declined"
        #: The gateway never took it, and has promised never to.
        VOID = "void"

    #: States in which a checkout takes no further attempt.
    OPEN_STATES = (State.PENDING, State.APPROVED)

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="attempts")
    key = models.CharField(max_length=64, unique=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.PENDING)
    reason = models.CharField(max_length=32, blank=True)
    gateway_reference = models.CharField(max_length=40, blank=True)
    card_ending = models.CharField(max_length=4)
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    #: Stock that is held for it, and given back unless it is approved.
    held = models.ForeignKey("catalogue.Combination", null=True, on_delete=models.SET_NULL)
    #: An access code that is held for it, and its buyer's once it is approved.
    access_code = models.OneToOneField("catalogue.AccessCode", null=True, on_delete=models.SET_NULL, related_name="+")
    begun_at = models.DateTimeField()
    answered_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["checkout"], condition=Q(state__in=["pending", "approved"]), name="attempt_one_open"
            ),
            models.CheckConstraint(
                condition=Q(state="pending", answered_at__isnull=True)
                | (~Q(state="pending") & Q(answered_at__isnull=False)),
                name="attempt_answer_has_instant",
            ),
        ]
        indexes = [models.Index(fields=["begun_at"], condition=Q(state="pending"), name="attempt_pending")]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)
