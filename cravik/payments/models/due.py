"""What a checkout owes, and when."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from cravik.core.pricing.money import Money


class Due(models.Model):
    """One sum of a checkout, with the day on which it is to be paid. The first is paid by the buyer's press.

    ``paid_minor`` is what charges have brought of it, never more than the sum.
    """

    class State(models.TextChoices):
        OPEN = "open"
        PAID_IN_PART = "part", "paid in part"
        PAID = "paid"
        #: The last try came to nothing; ``collect_on`` says when it is tried again, if it is.
        FAILED = "failed"
        #: Left out, by its buyer or in a pause, and not made up for.
        SKIPPED = "skipped"
        #: The seller asks for it no more.
        WAIVED = "waived"
        #: What it belonged to came to nothing.
        CANCELLED = "cancelled"

    #: States in which money is still to come.
    UNPAID = (State.OPEN, State.PAID_IN_PART, State.FAILED)

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="dues", db_index=False)
    position = models.PositiveSmallIntegerField()
    on = models.DateField()
    amount_minor = models.PositiveBigIntegerField()
    paid_minor = models.PositiveBigIntegerField(default=0)
    currency = models.CharField(max_length=3)
    state = models.CharField(max_length=9, choices=State.choices, default=State.OPEN)
    paid_at = models.DateTimeField(null=True)
    #: The day on which the clock asks for it next; none where it does not, or no more.
    collect_on = models.DateField(null=True)
    #: The day on which its buyer is next told that it comes; none where they are not, or were.
    tell_on = models.DateField(null=True)
    #: What it is for, where it came to what was agreed later.
    reason = models.CharField(max_length=200, blank=True, default="")

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["checkout", "position"], name="due_once"),
            models.CheckConstraint(
                condition=Q(state="paid", paid_at__isnull=False) | (~Q(state="paid") & Q(paid_at__isnull=True)),
                name="due_paid_has_instant",
            ),
            models.CheckConstraint(
                condition=Q(state="paid", paid_minor=F("amount_minor"))
                | Q(state="open", paid_minor=0)
                | Q(state="part", paid_minor__gt=0, paid_minor__lt=F("amount_minor"))
                | Q(state__in=["failed", "skipped", "waived", "cancelled"], paid_minor__lt=F("amount_minor"))
                | Q(state__in=["skipped", "waived", "cancelled"], amount_minor=0),
                name="due_paid_within",
            ),
            models.CheckConstraint(
                condition=Q(collect_on__isnull=True, tell_on__isnull=True) | Q(state__in=["open", "part", "failed"]),
                name="due_awaited_while_unpaid",
            ),
        ]
        indexes = [
            models.Index(fields=["collect_on"], condition=Q(collect_on__isnull=False), name="due_to_collect"),
            models.Index(fields=["tell_on"], condition=Q(tell_on__isnull=False), name="due_to_tell"),
        ]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)

    @property
    def left(self) -> Money:
        """What of it is not paid yet."""
        return Money(self.amount_minor - self.paid_minor, self.currency)
