"""What is held."""

from __future__ import annotations

from django.db import models
from django.db.models import Q


class Hold(models.Model):
    """Something scarce that is reserved for a buyer who is paying, until it is theirs or released.

    Reserved in the transaction that records the attempt; confirmed in the one that makes the order; released in the
    one that records a decline, or by the reconciler. What is held is counted where it lies (stock at its variant,
    orders, pieces and uses of codes in the link's tallies); the row says for whom, how many and until when, and its
    state makes sure that nothing is released twice.
    """

    class Kind(models.TextChoices):
        #: One order of the link with its pieces: places of a limited link, and steps of a price that counts them.
        ORDER = "order"
        STOCK = "stock"
        CODE_USE = "code_use", "a use of a discount code"
        ACCESS_CODE = "access", "an access code"

    class State(models.TextChoices):
        HELD = "held"
        CONFIRMED = "confirmed", "the buyer's"
        RELEASED = "released"

    checkout = models.ForeignKey("checkout.Checkout", on_delete=models.PROTECT, related_name="holds")
    kind = models.CharField(max_length=8, choices=Kind.choices)
    state = models.CharField(max_length=9, choices=State.choices, default=State.HELD)
    quantity = models.PositiveIntegerField(default=1)
    #: Of an order: how many pieces of each line, by its key.
    pieces = models.JSONField(default=dict)
    link = models.ForeignKey("links.Link", null=True, on_delete=models.PROTECT, related_name="+")
    code = models.ForeignKey("links.LinkCode", null=True, on_delete=models.PROTECT, related_name="+", db_index=False)
    variant = models.ForeignKey(
        "catalogue.Variant", null=True, on_delete=models.SET_NULL, related_name="+", db_index=False
    )
    access_code = models.ForeignKey(
        "catalogue.AccessCode", null=True, on_delete=models.SET_NULL, related_name="+", db_index=False
    )
    until = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(kind="order", link__isnull=False, code__isnull=True)
                | Q(kind="code_use", code__isnull=False, link__isnull=True)
                | Q(kind__in=["stock", "access"], link__isnull=True, code__isnull=True),
                name="hold_of_one_thing",
            ),
        ]
        indexes = [
            models.Index(fields=["until"], condition=Q(state="held"), name="hold_lapses"),
            # Of most holds these are none.
            models.Index(fields=["code"], condition=Q(code__isnull=False), name="hold_of_code"),
            models.Index(fields=["variant"], condition=Q(variant__isnull=False), name="hold_of_variant"),
            models.Index(fields=["access_code"], condition=Q(access_code__isnull=False), name="hold_of_access_code"),
        ]
