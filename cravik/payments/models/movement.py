"""The ledger."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.core.pricing.money import Money
from cravik.payments.models.attempt import Attempt
from cravik.payments.models.refund import Refund


class Movement(models.Model):
    """Money that moved: a line of the ledger. What a link, an order or a day took is the sum of its lines.

    A charge is above zero; a refund is below, and names the charge that it undoes. Business, link and spot are those of
    the checkout, so that sums need no other table. Written once and never changed.
    """

    class Kind(models.TextChoices):
        CHARGE = "charge"
        REFUND = "refund"

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="movements")
    attempt = models.OneToOneField(Attempt, null=True, on_delete=models.PROTECT, related_name="movement")
    refund = models.OneToOneField(Refund, null=True, on_delete=models.PROTECT, related_name="movement")
    undoes = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="undone_by", db_index=False)
    kind = models.CharField(max_length=6, choices=Kind.choices)
    amount_minor = models.BigIntegerField()
    currency = models.CharField(max_length=3)
    gateway_reference = models.CharField(max_length=40)
    rehearsal = models.BooleanField()
    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)
    link = models.ForeignKey("links.Link", on_delete=models.PROTECT, db_index=False)
    spot = models.ForeignKey("links.Spot", on_delete=models.PROTECT, db_index=False)
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(
                    kind="charge", amount_minor__gt=0, attempt__isnull=False, refund__isnull=True, undoes__isnull=True
                )
                | Q(
                    kind="refund", amount_minor__lt=0, attempt__isnull=True, refund__isnull=False, undoes__isnull=False
                ),
                name="movement_has_its_sign",
            ),
        ]
        indexes = [
            # Cover money over a period: of all links, and of one.
            models.Index(
                fields=["business", "at", "link", "spot", "currency", "amount_minor"],
                condition=Q(rehearsal=False),
                name="movement_money",
            ),
            models.Index(
                fields=["business", "link", "at", "spot", "currency", "amount_minor"],
                condition=Q(rehearsal=False),
                name="movement_money_of_link",
            ),
        ]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.currency)
