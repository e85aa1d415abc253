"""Where a link answers."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.links.models.link import Link


class Spot(models.Model):
    """A place where a link is put up. The first stands for the link itself, at its readable address.

    ``code`` is the spot's short address, and never another's: spots are not removed.
    """

    link = models.ForeignKey(Link, on_delete=models.PROTECT, related_name="spots")
    code = models.CharField(max_length=7, unique=True)
    name = models.CharField(max_length=80)
    is_first = models.BooleanField(default=False)
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["link"], condition=Q(is_first=True), name="spot_one_first"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def path(self) -> str:
        return reverse("spot:page", args=[self.code])


class Address(models.Model):
    """A readable address. Former ones keep answering, so none is ever given to another link."""

    slug = models.SlugField(max_length=60, unique=True)
    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="addresses")
    current = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["link"], condition=Q(current=True), name="address_one_current"),
        ]
