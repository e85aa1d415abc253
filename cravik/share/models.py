"""What is decided of how a link is handed out."""

from __future__ import annotations

from django.db import models
from django.db.models import Q


class KeptDesign(models.Model):
    """How QR codes look: those of a look, or that of one spot.

    ``document`` is as ``CodeDesign`` has it, ``picture`` the one of its own (``name`` of its files and their
    ``widths``), ``width_mm`` the width that it is printed at. ``revision`` counts the saves, so that a second tab
    notices.
    """

    look = models.OneToOneField("setup.Look", null=True, on_delete=models.CASCADE, related_name="+")
    spot = models.OneToOneField("links.Spot", null=True, on_delete=models.CASCADE, related_name="+")
    document = models.JSONField()
    picture = models.JSONField(null=True)
    width_mm = models.PositiveIntegerField()
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(look__isnull=True, spot__isnull=False) | Q(look__isnull=False, spot__isnull=True),
                name="design_of_one_thing",
            ),
        ]


class Handle(models.Model):
    """A short address at which a business is paid. Former ones keep leading there, and are never another's."""

    name = models.CharField(max_length=30, unique=True)
    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, related_name="+")
    current = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business"], condition=Q(current=True), name="handle_one_current"),
        ]


class HandleCurrency(models.Model):
    """A currency that a business takes at its handle, and the spot that it is paid at."""

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, related_name="+")
    currency = models.CharField(max_length=3)
    spot = models.OneToOneField("links.Spot", on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business", "currency"], name="handle_currency_once")]


class PastedButton(models.Model):
    """The plain button that a seller said was pasted into a page, as it was then: ``html``, and its words alone.

    ``kind`` is how it was made, as ``on_pages.plain`` knows it.
    """

    spot = models.OneToOneField("links.Spot", on_delete=models.CASCADE, related_name="+")
    kind = models.CharField(max_length=16, default="text")
    html = models.TextField()
    label = models.CharField(max_length=400)
    pasted_at = models.DateTimeField()


class KeptButton(models.Model):
    """How the button of a spot looks on pages of others.

    ``document`` is as ``ButtonDesign`` has it, ``picture`` one of the seller's own for where no script runs (``name``
    of its files and their ``widths``). ``revision`` counts the saves, so that a second tab notices.
    """

    spot = models.OneToOneField("links.Spot", on_delete=models.CASCADE, related_name="+")
    document = models.JSONField()
    picture = models.JSONField(null=True)
    revision = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField()


class Sighting(models.Model):
    """That a page of ``host`` (nothing: a file) asked for the button of a spot, and whether it may open it."""

    spot = models.ForeignKey("links.Spot", on_delete=models.CASCADE, related_name="+")
    host = models.CharField(max_length=253, blank=True)
    is_allowed = models.BooleanField()
    #: The seller knows that it asks, and does not want it to open there.
    is_refused = models.BooleanField(default=False)
    first_at = models.DateTimeField()
    last_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["spot", "host"], name="sighting_once")]


class PlacedSpot(models.Model):
    """The address of the page that a seller said they put the spot's button on."""

    spot = models.OneToOneField("links.Spot", on_delete=models.CASCADE, related_name="+")
    address = models.CharField(max_length=500)
    placed_at = models.DateTimeField()
