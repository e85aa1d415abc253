"""Terms and conditions, and each version that they had."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.urls import reverse


class Conditions(models.Model):
    """What buyers agree to, by a name; at most one is the default."""

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="conditions")
    name = models.CharField(max_length=60)
    is_default = models.BooleanField(default=False)
    #: No longer offered; what buyers agreed to stays readable.
    put_away = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "name"], condition=Q(put_away=False), name="conditions_name"),
            models.UniqueConstraint(fields=["business"], condition=Q(is_default=True), name="conditions_one_default"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def version(self) -> ConditionsVersion:
        """The one that new agreements are to."""
        return self.versions.all()[0]


class ConditionsVersion(models.Model):
    """The words as they were from one change to the next. Never changed: buyers agreed to them.

    ``key`` stands in its public address.
    """

    conditions = models.ForeignKey(Conditions, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    key = models.CharField(max_length=24, unique=True)
    words = models.TextField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["conditions", "number"], name="conditions_version_number")]

    @property
    def path(self) -> str:
        return reverse("terms:version", args=[self.key])
