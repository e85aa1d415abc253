"""Links, what was published of them, and the addresses at which they answer."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.core.documents.offer import read_offer
from cravik.core.offer import Offer

if TYPE_CHECKING:
    from cravik.setup.models import Business


class LinkQuerySet(models.QuerySet["Link"]):
    def of(self, business: Business) -> LinkQuerySet:
        return self.filter(business=business)


class Link(models.Model):
    """An offer with an address.

    ``draft`` is the offer document as it stands on the bench; ``edition`` is what buyers see, and
    changes only by publishing. ``revision`` counts the saves, so that a second tab notices.
    """

    class State(models.TextChoices):
        DRAFT = "draft"
        LIVE = "live"
        PAUSED = "paused"
        ENDED = "ended"

    class EndedWhy(models.TextChoices):
        BY_HAND = "by_hand", "ended by hand"

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    state = models.CharField(max_length=8, choices=State.choices, default=State.DRAFT)
    ended_why = models.CharField(max_length=16, choices=EndedWhy.choices, blank=True)
    draft = models.JSONField()
    words = models.TextField(blank=True)
    #: What it sells of the catalogue; name and words are then the item's.
    item = models.ForeignKey("catalogue.Item", null=True, on_delete=models.PROTECT)
    #: What it decides itself of what Setup decides for all: documents by subject.
    own = models.JSONField(default=dict)
    #: What the draft has of Setup beside its offer: the look, the terms and conditions.
    setting = models.JSONField(default=dict)
    revision = models.PositiveIntegerField(default=1)
    edition = models.ForeignKey("Edition", null=True, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField()
    changed_at = models.DateTimeField()
    published_at = models.DateTimeField(null=True)
    state_since = models.DateTimeField()

    objects = LinkQuerySet.as_manager()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "name"], name="link_name_unique"),
            models.CheckConstraint(
                condition=Q(state="draft", edition__isnull=True) | (~Q(state="draft") & Q(edition__isnull=False)),
                name="link_published_has_edition",
            ),
            models.CheckConstraint(
                condition=Q(state="ended", ended_why__gt="") | (~Q(state="ended") & Q(ended_why="")),
                name="link_ended_says_why",
            ),
        ]
        indexes = [models.Index(fields=["business", "-made_at"], name="link_newest")]

    def __str__(self) -> str:
        return self.name

    @property
    def offer(self) -> Offer:
        """The draft as the core reads it."""
        return read_offer(self.draft)

    @property
    def slug(self) -> str:
        """The readable part of its present address."""
        return next(address.slug for address in self.addresses.all() if address.current)

    @property
    def path(self) -> str:
        return reverse("checkout:page", args=[self.slug])

    @property
    def has_unpublished_changes(self) -> bool:
        edition = self.edition
        return edition is not None and (
            (edition.offer_document, edition.words, edition.setting) != (self.draft, self.words, self.setting)
        )


class Edition(models.Model):
    """One published version of a link's offer. Never changed: a buyer pays what an edition says."""

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="editions")
    number = models.PositiveIntegerField()
    offer_document = models.JSONField()
    words = models.TextField(blank=True)
    #: As it is in a link; what is absent is the product's own.
    setting = models.JSONField(default=dict)
    published_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["link", "number"], name="edition_number_unique")]

    def renewed(self, now: datetime, **changes: Any) -> Edition:
        """The link's next edition, which differs from this one in the fields that are given."""
        same = {name: getattr(self, name) for name in ("link_id", "offer_document", "words", "setting")}
        number = Edition.objects.filter(link_id=self.link_id).count() + 1
        return Edition.objects.create(**same | changes, number=number, published_at=now)

    @property
    def offer(self) -> Offer:
        return read_offer(self.offer_document)


class Address(models.Model):
    """A readable address. Former ones keep answering, so none is ever given to another link."""

    slug = models.SlugField(max_length=60, unique=True)
    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="addresses")
    current = models.BooleanField(default=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["link"], condition=Q(current=True), name="address_one_current"),
        ]
