"""Where a link answers."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.links.models.link import Link


class Spot(models.Model):
    """A place where a link is put up. The first stands for the link itself, at its readable address.

    ``code`` is the spot's short address, and never another's: spots are not removed. ``link`` is where it leads now;
    what was visited and paid before it was moved stays with the link of that time.
    """

    link = models.ForeignKey(Link, on_delete=models.PROTECT, related_name="spots")
    code = models.CharField(max_length=7, unique=True)
    name = models.CharField(max_length=80)
    is_first = models.BooleanField(default=False)
    #: The way to send messages that it was made for; one a link.
    channel = models.CharField(max_length=16, blank=True)
    #: Where it hangs, in the seller's words and a picture of it (``name`` of the files and their ``widths``).
    note = models.CharField(max_length=300, blank=True)
    photo = models.JSONField(null=True)
    made_at = models.DateTimeField()
    #: Ended, it leads on to ``leads_to``, or to the link itself where that is empty.
    ended_at = models.DateTimeField(null=True)
    leads_to = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["link"], condition=Q(is_first=True), name="spot_one_first"),
            models.UniqueConstraint(fields=["link", "name"], name="spot_name_once"),
            models.UniqueConstraint(fields=["link", "channel"], condition=Q(channel__gt=""), name="spot_channel_once"),
            models.CheckConstraint(condition=Q(is_first=False) | Q(ended_at=None), name="spot_first_goes_on"),
            models.CheckConstraint(condition=Q(leads_to="") | Q(ended_at__isnull=False), name="spot_ended_leads_on"),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def path(self) -> str:
        return reverse("spot:page", args=[self.code])


class SpotMove(models.Model):
    """That a spot was moved from one link to another. Never changed."""

    spot = models.ForeignKey(Spot, on_delete=models.CASCADE, related_name="moves")
    left = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="spots_left")
    joined = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="+")
    by = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["-id"]


class Address(models.Model):
    """A readable address. Former ones keep answering, so none is ever given to another link."""

    slug = models.SlugField(max_length=60, unique=True)
    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="addresses")
    current = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["link"], condition=Q(current=True), name="address_one_current"),
        ]
