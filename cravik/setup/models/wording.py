"""Messages in a seller's own words."""

from __future__ import annotations

from django.db import models


class Wording(models.Model):
    """What a seller wrote instead of a message's original; no row: the original.

    ``revision`` counts the saves, so that a second tab notices.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="wordings")
    kind = models.CharField(max_length=32)
    subject = models.CharField(max_length=200)
    heading = models.CharField(max_length=200)
    body = models.TextField()
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business", "kind"], name="wording_once")]
