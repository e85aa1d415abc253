"""What a seller proposes to a buyer who pays over time."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.pricing.money import Money
from cravik.payments.models.agreement import Agreement


class Proposal(models.Model):
    """Another sum for each payment from a day on, with the seller's ``words``. Without the buyer's yes all stays as it
    was agreed; one is open at a time."""

    agreement = models.ForeignKey(Agreement, on_delete=models.PROTECT, related_name="proposals")
    amount_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    from_on = models.DateField()
    words = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField()
    answered_at = models.DateTimeField(null=True)
    accepted = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["agreement"], condition=Q(answered_at__isnull=True), name="proposal_one_open"
            )
        ]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)
