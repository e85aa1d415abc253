"""Terms and conditions, and each version that they had."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.urls import reverse


class Terms(models.Model):
    """What buyers agree to, by a name; at most one is the default."""

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="terms")
    name = models.CharField(max_length=60)
    is_default = models.BooleanField(default=False)
    #: No longer offered; what buyers agreed to stays readable.
    archived = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "name"], condition=Q(archived=False), name="terms_name"),
            models.UniqueConstraint(fields=["business"], condition=Q(is_default=True), name="terms_one_default"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def version(self) -> TermsVersion:
        """The one that new agreements are to."""
        return self.versions.all()[0]


class TermsVersion(models.Model):
    """The words as they were from one change to the next. Never changed: buyers agreed to them.

    ``key`` stands in its public address.
    """

    terms = models.ForeignKey(Terms, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    key = models.CharField(max_length=24, unique=True)
    words = models.TextField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["terms", "number"], name="terms_version_number")]

    @property
    def path(self) -> str:
        return reverse("terms:version", args=[self.key])
