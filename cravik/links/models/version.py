"""What was published of a link, and the items of the catalogue that it sells."""

from __future__ import annotations

import secrets
from typing import TYPE_CHECKING

from django.db import models
from django.db.models import Q

from cravik.core.documents.data import EffectiveData, LinkData
from cravik.core.pricing.offer import Offer
from cravik.later import later
from cravik.links.models.link import Link

if TYPE_CHECKING:
    from cravik.core.documents import link as link_documents
else:
    link_documents = later("cravik.core.documents.link")


def new_version_id() -> int:
    """A number that no other version has or had, even one whose transaction came to nothing.

    What is computed of a version is kept by its id for as long as a process lives, so an id may never come
    to stand for something else; numbers that the database counts up are given again after a rollback.
    """
    return secrets.randbits(62) + 1


class Version(models.Model):
    """One version of a link that could be paid. Never changed: a buyer pays what a version says.

    ``cause`` says how it came about: its draft was published, a default of Setup reached it, or its item changed.

    ``document`` is the draft as it was, ``effective`` all that a buyer sees and pays by: the link document with
    what it follows of Setup put in, the ``look``, the ``conditions`` agreed to, the ``contact``, and the ids of
    the ``items`` by line. A rehearsal's version has no ``number``, and the ``revision`` of the draft.
    """

    class Cause(models.TextChoices):
        PUBLISHED = "published"
        SETUP = "setup"
        ITEM = "item"

    id = models.BigIntegerField(primary_key=True, default=new_version_id, editable=False)
    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField(null=True)
    revision = models.PositiveIntegerField(null=True)
    document: models.JSONField[LinkData, LinkData] = models.JSONField()
    effective: models.JSONField[EffectiveData, EffectiveData] = models.JSONField()
    cause = models.CharField(max_length=9, choices=Cause.choices, default=Cause.PUBLISHED)
    published_at = models.DateTimeField()
    #: Who published it; None where nobody did by hand.
    published_by = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["link", "number"], name="version_number_unique"),
            models.UniqueConstraint(fields=["link", "revision"], name="version_rehearsed_once"),
            models.CheckConstraint(
                condition=Q(number__isnull=False, revision__isnull=True)
                | Q(number__isnull=True, revision__isnull=False),
                name="version_published_or_rehearsed",
            ),
        ]

    @property
    def offer(self) -> Offer:
        return link_documents.read_link(self.effective["link"]).offer


class SoldItem(models.Model):
    """That a line of a link's draft, or of one of its versions, sells an item of the catalogue."""

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="sold_items")
    version = models.ForeignKey(Version, null=True, on_delete=models.CASCADE, related_name="sold_items")
    line = models.CharField(max_length=80)
    item = models.ForeignKey("catalogue.Item", on_delete=models.PROTECT, related_name="sold_in")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["link", "line"], condition=Q(version__isnull=True), name="sold_in_draft"),
            models.UniqueConstraint(fields=["version", "line"], name="sold_in_version"),
        ]
