"""Tries at moving money, and which dues they are for."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from cravik.core.pricing.money import Money
from cravik.payments.models.due import Due
from cravik.people.acted import ActedBy


class Attempt(ActedBy):
    """One try at getting a sum for some dues of a checkout, recorded before anybody is asked for it and again after.

    ``key`` is the idempotency key that it is asked for with. One of nothing keeps a card and moves no money. What only
    its way to pay knows of it stands in ``details``, which its file in ``payments/ways`` reads.
    """

    class State(models.TextChoices):
        PENDING = "pending"
        APPROVED = "approved"
        DECLINED = "declined"
        #: The money was never taken, and it is promised that it never will be.
        VOID = "void"

    #: The reason of one that was void because nobody decided, or the buyer did not want to wait.
    CALLED_OFF = "called_off"
    #: States in which money has moved, or may have.
    MAY_HAVE_PAID = (State.PENDING, State.APPROVED)

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="attempts")
    way = models.CharField(max_length=12)
    key = models.CharField(max_length=64, unique=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.PENDING)
    reason = models.CharField(max_length=32, blank=True)
    gateway_reference = models.CharField(max_length=40, blank=True)
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    details = models.JSONField(default=dict)
    #: When it was asked for and not decided, so that it waits for an answer.
    left_open_at = models.DateTimeField(null=True)
    #: How long the money is waited for, where it was promised and may take days.
    awaited_until = models.DateTimeField(null=True)
    #: How much of it was given back, or is about to be.
    refunded_minor = models.PositiveBigIntegerField(default=0)
    begun_at = models.DateTimeField()
    answered_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(refunded_minor=0) | Q(state="approved", refunded_minor__lte=F("amount_minor")),
                name="attempt_refunded_within",
            ),
            models.CheckConstraint(
                condition=Q(state="pending", answered_at__isnull=True)
                | (~Q(state="pending") & Q(answered_at__isnull=False)),
                name="attempt_answer_has_instant",
            ),
        ]
        indexes = [
            models.Index(fields=["begun_at"], condition=Q(state="pending"), name="attempt_pending"),
            models.Index(fields=["begun_at"], condition=Q(state="declined"), name="attempt_declined"),
            models.Index(fields=["begun_at"], condition=Q(state="void"), name="attempt_void"),
        ]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)


class Allocation(models.Model):
    """How much of an attempt is for which due. A due has at most one that is undecided: the database itself refuses
    a second try while one may still be paid."""

    attempt = models.ForeignKey(Attempt, on_delete=models.PROTECT, related_name="allocations", db_index=False)
    due = models.ForeignKey(Due, on_delete=models.PROTECT, related_name="allocations")
    amount_minor = models.PositiveBigIntegerField()
    undecided = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["attempt", "due"], name="allocation_once"),
            models.UniqueConstraint(fields=["due"], condition=Q(undecided=True), name="allocation_one_undecided"),
        ]
