"""What is counted of a link over all its versions.

``most`` is how much of it there may be in all, as what is published now says (None: without a limit): so taking some is
one statement that holds whatever is published at the same instant.
"""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from cravik.links.models.link import Link


class LinkTally(models.Model):
    """How many orders a link has over all its versions, and how many are being paid. Rehearsals never count.

    A row of its own, so that counting an order never meets a seller who saves the link.
    """

    link = models.OneToOneField(Link, on_delete=models.CASCADE, related_name="tally", primary_key=True)
    paid = models.PositiveIntegerField(default=0)
    held = models.PositiveIntegerField(default=0)
    most = models.PositiveIntegerField(null=True)


class LinePieces(models.Model):
    """How many pieces of a line, by its key, a link has sold over all its versions, and how many are being paid.

    Counted whether the line is limited or not, so that a limit that comes later knows what was sold before. A row is
    there from the first piece on.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="pieces")
    line = models.CharField(max_length=80)
    paid = models.PositiveBigIntegerField(default=0)
    held = models.PositiveBigIntegerField(default=0)
    most = models.PositiveBigIntegerField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["link", "line"], name="link_pieces_once"),
            models.CheckConstraint(
                condition=Q(most__isnull=True) | Q(paid__lte=F("most") - F("held")), name="link_pieces_within_bound"
            ),
        ]


class LinkCode(models.Model):
    """A discount code of a link, and its uses over all versions; what it takes off is the version's.

    ``normal`` is the code without regard to case and surrounding space.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="codes")
    normal = models.CharField(max_length=250)
    paid = models.PositiveIntegerField(default=0)
    held = models.PositiveIntegerField(default=0)
    most = models.PositiveIntegerField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["link", "normal"], name="link_code_once")]
