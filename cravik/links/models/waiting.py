"""Who wants to hear when a link can be bought."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.links.models.link import Link


class WaitingQuerySet(models.QuerySet["Waiting"]):
    def confirmed(self) -> WaitingQuerySet:
        """Those who said, from a letter to the address, that it was they who left it."""
        return self.filter(confirmed_at__isnull=False)


class Waiting(models.Model):
    """An e-mail address that was left for one message: when the link opens, or is back.

    It counts once its owner said so, by the address with ``key`` that was mailed to them. ``due_at`` is when its seller
    had all who wait written to; the row goes with the letter that is written.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="waiting")
    email = models.EmailField()
    #: The address without regard to case.
    email_key = models.CharField(max_length=254)
    made_at = models.DateTimeField()
    key = models.CharField(max_length=32, unique=True)
    confirmed_at = models.DateTimeField(null=True)
    due_at = models.DateTimeField(null=True)

    objects = WaitingQuerySet.as_manager()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["link", "email_key"], name="waiting_once")]
        indexes = [models.Index(fields=["id"], condition=Q(due_at__isnull=False), name="waiting_due")]
