"""The sites of others on which links may open."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from cravik.links.models.link import Link


class AllowedSite(models.Model):
    """A site on which the links of a business may open in its pages, or ``link`` alone.

    ``host`` is as ``core.link.sites`` reads it: without ``www``, or ``localhost`` for the seller's own machine.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="+")
    link = models.ForeignKey(Link, null=True, on_delete=models.CASCADE, related_name="+")
    host = models.CharField(max_length=253)
    subdomains = models.BooleanField(default=False)
    named_at = models.DateTimeField()

    class Meta:
        ordering = ["host"]
        constraints = [
            models.UniqueConstraint(fields=["business", "host"], condition=Q(link=None), name="site_once_for_all"),
            models.UniqueConstraint(fields=["link", "host"], condition=Q(link__isnull=False), name="site_once_a_link"),
        ]

    def __str__(self) -> str:
        return self.host
