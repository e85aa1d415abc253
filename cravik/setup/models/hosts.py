"""Host names of a business's own."""

from __future__ import annotations

from django.db import models
from django.db.models import Q


class HostName(models.Model):
    """A name under which a business's links answer, once it is pointed here; at most one is the main one.

    ``key`` is what this installation answers at the name to prove it; ``pointed_at`` is when that was seen. A name that
    is not pointed here lapses, so that nobody keeps another's.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="hosts")
    name = models.CharField(max_length=253, unique=True)
    is_main = models.BooleanField(default=False)
    key = models.CharField(max_length=43)
    made_at = models.DateTimeField()
    pointed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["business"], condition=Q(is_main=True), name="host_one_main"),
            models.CheckConstraint(condition=Q(is_main=False) | Q(pointed_at__isnull=False), name="host_main_points"),
        ]

    def __str__(self) -> str:
        return self.name
