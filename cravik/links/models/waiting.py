"""Who wants to hear when a link can be bought."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.links.models.link import Link


class Waiting(models.Model):
    """An e-mail address that was left for one message: when the link opens, or is back.

    ``due_at`` is when its seller had all who wait written to; the row goes with the letter that is written.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="waiting")
    email = models.EmailField()
    #: The address without regard to case.
    email_key = models.CharField(max_length=254)
    made_at = models.DateTimeField()
    due_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["link", "email_key"], name="waiting_once")]
        indexes = [models.Index(fields=["id"], condition=Q(due_at__isnull=False), name="waiting_due")]
