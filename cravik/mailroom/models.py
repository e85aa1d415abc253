"""Letters: messages to buyers and to the seller."""

from __future__ import annotations

from django.db import models

#: The kind of the letters that hold an address for choosing a new password.
WAY_BACK = "way_back"


class Letter(models.Model):
    """One message, written once and delivered once. One that cannot be sent is parked, until its seller sends it again.

    ``occasion`` names what it was written for; the constraint makes writing it twice impossible,
    so that whatever queues letters may safely run again.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        TAKEN = "taken", "being sent"
        SENT = "sent"
        PARKED = "parked", "could not be sent"

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    kind = models.CharField(max_length=32)
    occasion = models.CharField(max_length=64)
    to_name = models.CharField(max_length=200, blank=True)
    to_address = models.EmailField()
    reply_to = models.EmailField(blank=True)
    subject = models.CharField(max_length=250)
    text = models.TextField()
    html = models.TextField()
    rehearsal = models.BooleanField(default=False)
    #: The order that it is about, by its plain id: this room knows none.
    order_id = models.PositiveBigIntegerField(null=True)
    #: What goes with it, by ids that whoever queued it knows.
    enclosed = models.JSONField(default=list)
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    written_at = models.DateTimeField()
    taken_at = models.DateTimeField(null=True)
    #: How often sending it failed, why the last time, and before when it is not tried again.
    tries = models.PositiveSmallIntegerField(default=0)
    trouble = models.CharField(max_length=300, blank=True)
    not_before = models.DateTimeField(null=True)
    sent_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "kind", "occasion"], name="letter_once"),
            models.CheckConstraint(
                condition=models.Q(state="sent", sent_at__isnull=False)
                | (~models.Q(state="sent") & models.Q(sent_at__isnull=True)),
                name="letter_sent_has_instant",
            ),
        ]
        indexes = [
            models.Index(fields=["business", "-written_at"], name="letter_newest"),
            models.Index(fields=["id"], condition=models.Q(state__in=["waiting", "taken"]), name="letter_waiting"),
            models.Index(fields=["order_id"], condition=models.Q(order_id__isnull=False), name="letter_of_order"),
        ]
