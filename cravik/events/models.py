"""The one table of what happened."""

from __future__ import annotations

from django.db import models
from django.db.models import Q


class Event(models.Model):
    """Something that happened. Written in the transaction of the act, and never changed.

    Who writes holds the one write lock from the first statement on, so an event with a larger id is seen no earlier
    than one with a smaller: whoever has read up to an id misses nothing by going on from there.

    What it is about is told by plain ids, since this table knows none of the others; an id of something that is removed
    stays. ``data`` holds the fields of the kind.
    """

    class By(models.TextChoices):
        MEMBER = "member"
        BUYER = "buyer"
        CLOCK = "clock"
        COMMAND = "command"

    # Neither is looked up by: each index is written with every payment.
    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)
    kind = models.CharField(max_length=40)
    at = models.DateTimeField()
    by = models.CharField(max_length=7, choices=By.choices)
    #: The member's name at that time, or the command's.
    by_name = models.CharField(max_length=254, blank=True)
    user = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL, db_index=False)
    rehearsal = models.BooleanField(default=False)
    order_id = models.PositiveBigIntegerField(null=True)
    link_id = models.PositiveBigIntegerField(null=True)
    spot_id = models.PositiveBigIntegerField(null=True)
    buyer_id = models.PositiveBigIntegerField(null=True)
    item_id = models.PositiveBigIntegerField(null=True)
    #: What of Setup it is about, by its short name.
    setting = models.CharField(max_length=40, blank=True)
    data = models.JSONField(default=dict)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(order_id__isnull=False)
                | Q(link_id__isnull=False)
                | Q(spot_id__isnull=False)
                | Q(buyer_id__isnull=False)
                | Q(item_id__isnull=False)
                | ~Q(setting=""),
                name="event_is_about_something",
            ),
        ]
        indexes = [
            models.Index(fields=["order_id"], condition=Q(order_id__isnull=False), name="event_of_order"),
            # Of orders there are many, and a link's own history has none of them.
            models.Index(fields=["link_id", "at"], condition=Q(order_id__isnull=True), name="event_of_link"),
        ]
