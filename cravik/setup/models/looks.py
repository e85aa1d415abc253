"""Brand looks: how a seller's pages look."""

from __future__ import annotations

from django.db import models
from django.db.models import Q


class Look(models.Model):
    """A look with a name; at most one is the default. ``document`` is as ``setup.looks`` reads it.

    ``revision`` counts the saves, so that a second tab notices.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="looks")
    name = models.CharField(max_length=60)
    document = models.JSONField()
    is_default = models.BooleanField(default=False)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "name"], name="look_name_unique"),
            models.UniqueConstraint(fields=["business"], condition=Q(is_default=True), name="look_one_default"),
        ]

    def __str__(self) -> str:
        return self.name
