"""The way into a buyer's purchases."""

from __future__ import annotations

from django.db import models


class PurchasesKey(models.Model):
    """A mailed address that opens a buyer's purchases once. Only the digest of what stands in it is kept."""

    buyer = models.ForeignKey("buyers.Buyer", on_delete=models.CASCADE, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)
