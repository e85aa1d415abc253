"""The way into a buyer's purchases, and what a buyer asks for there."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.orders.models.order import Order


class PurchasesKey(models.Model):
    """A mailed address that opens a buyer's purchases once. Only the digest of what stands in it is kept."""

    buyer = models.ForeignKey("buyers.Buyer", on_delete=models.CASCADE, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)


class Wish(models.Model):
    """What a buyer asks of an order: their money back, once, or to withdraw from buying some of its lines, each once.

    A refund that answers it settles it, or its seller's word; see ``acts/settled.py``.
    """

    class Kind(models.TextChoices):
        REFUND = "refund"
        WITHDRAWAL = "withdrawal"

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="wishes")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    at = models.DateTimeField()
    #: In the buyer's words; of a refund alone.
    words = models.CharField(max_length=500, blank=True)
    #: ``{"key", "name"}`` of each line that is withdrawn from.
    lines = models.JSONField(default=list)
    settled_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["order"], condition=Q(kind="refund"), name="refund_asked_once"),
        ]
        indexes = [models.Index(fields=["order"], condition=Q(settled_at__isnull=True), name="wish_open")]

    @property
    def names(self) -> str:
        """What is withdrawn from."""
        return ", ".join(line["name"] for line in self.lines)
