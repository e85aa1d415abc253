"""Links, what was published of them, and the places where they answer."""

from __future__ import annotations

import secrets
from typing import TYPE_CHECKING, Any

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.core.documents.link import read_link
from cravik.core.documents.link_draft import gaps_in
from cravik.core.link.content import LinkContent
from cravik.core.pricing.offer import Offer

if TYPE_CHECKING:
    from cravik.setup.models import Business


class LinkQuerySet(models.QuerySet["Link"]):
    def of(self, business: Business) -> LinkQuerySet:
        return self.filter(business=business)


class Link(models.Model):
    """An offer with an address.

    ``draft`` is the link document as it stands on the bench; ``effective`` is what buyers would see of it
    (None while something is missing); ``edition`` is what they see, and changes only by publishing.
    ``revision`` counts the saves, so that a second tab notices.
    """

    class State(models.TextChoices):
        DRAFT = "draft"
        LIVE = "live"
        PAUSED = "paused"
        ENDED = "ended"

    class EndedWhy(models.TextChoices):
        BY_HAND = "by_hand", "ended by hand"
        DAY = "day", "its day has come"
        COUNT = "count", "its count was reached"

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    state = models.CharField(max_length=8, choices=State.choices, default=State.DRAFT)
    ended_why = models.CharField(max_length=16, choices=EndedWhy.choices, blank=True)
    draft = models.JSONField()
    #: As in ``Edition``.
    effective = models.JSONField(null=True)
    #: Prices of other kinds that the draft's lines had, by line and kind: going back to a kind brings them back.
    former_prices = models.JSONField(default=dict)
    #: The cases of its what-if table, as basket documents without their day; None until its seller changed one.
    what_if = models.JSONField(null=True)
    #: Keys of the advice on the draft that its seller dismissed.
    dismissed_advice = models.JSONField(default=list)
    revision = models.PositiveIntegerField(default=1)
    edition = models.ForeignKey("Edition", null=True, on_delete=models.PROTECT, related_name="+")
    #: When what is published ends by itself, if it does: the clock looks for it here.
    closes_at = models.DateTimeField(null=True)
    made_at = models.DateTimeField()
    changed_at = models.DateTimeField()
    published_at = models.DateTimeField(null=True)
    state_since = models.DateTimeField()

    objects = LinkQuerySet.as_manager()
    _read: tuple[Any, LinkContent] | None = None

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
        indexes = [
            models.Index(fields=["business", "-made_at"], name="link_newest"),
            models.Index(
                fields=["closes_at"],
                condition=Q(state__in=["live", "paused"], closes_at__isnull=False),
                name="link_due",
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def offer(self) -> Offer:
        """What the draft sells, on the terms of Setup that it follows. Raises ``ValueError`` while it has gaps."""
        return self.content.offer

    @property
    def content(self) -> LinkContent:
        """The draft with what it has of Setup, read once as long as it is the same. Raises ``ValueError`` while it has
        gaps."""
        if self.effective is None:
            raise ValueError("the draft has gaps")
        if self._read is None or self._read[0] is not self.effective:
            self._read = (self.effective, read_link(self.effective["link"]))
        return self._read[1]

    @property
    def title(self) -> str:
        """What the draft is for, or nothing while that is not decided."""
        return str(self.draft["offer"].get("title", ""))

    @property
    def gaps(self) -> tuple[str, ...]:
        """A sentence for each thing that the draft lacks."""
        return gaps_in(self.draft) if self.effective is None else ()

    @property
    def follows(self) -> tuple[str, ...]:
        """The subjects on which the draft has what Setup says."""
        return tuple(self.draft.get("follows", ()))

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
        return edition is not None and edition.effective != self.effective


def new_edition_id() -> int:
    """A number that no other edition has or had, even one whose transaction came to nothing.

    What is computed of an edition is kept by its id for as long as a process lives, so an id may never come
    to stand for something else; numbers that the database counts up are given again after a rollback.
    """
    return secrets.randbits(62) + 1


class Edition(models.Model):
    """One version of a link that could be paid. Never changed: a buyer pays what an edition says.

    ``cause`` says how it came about: its draft was published, a default of Setup reached it, or its item changed.

    ``document`` is the draft as it was, ``effective`` all that a buyer sees and pays by: the link document with
    what it follows of Setup put in, the ``look``, the ``conditions`` agreed to, the ``contact``, and the ids of
    the ``items`` by line. A rehearsal's edition has no ``number``, and the ``revision`` of the draft.
    """

    class Cause(models.TextChoices):
        PUBLISHED = "published"
        SETUP = "setup"
        ITEM = "item"

    id = models.BigIntegerField(primary_key=True, default=new_edition_id, editable=False)
    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="editions")
    number = models.PositiveIntegerField(null=True)
    revision = models.PositiveIntegerField(null=True)
    document = models.JSONField()
    effective = models.JSONField()
    cause = models.CharField(max_length=9, choices=Cause.choices, default=Cause.PUBLISHED)
    published_at = models.DateTimeField()
    #: Who published it; None where nobody did by hand.
    published_by = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["link", "number"], name="edition_number_unique"),
            models.UniqueConstraint(fields=["link", "revision"], name="edition_rehearsed_once"),
            models.CheckConstraint(
                condition=Q(number__isnull=False, revision__isnull=True)
                | Q(number__isnull=True, revision__isnull=False),
                name="edition_published_or_rehearsed",
            ),
        ]

    @property
    def offer(self) -> Offer:
        return read_link(self.effective["link"]).offer


class DraftStep(models.Model):
    """A change of a link's draft that can be undone, or, once it is ``undone``, done again.

    ``before`` and ``after`` are the draft and the former prices as they were then. ``revision`` is the link's at which
    the steps stand: where the link has another one, something else changed it since, and they are forgotten.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="steps")
    #: What was changed, such as ``Price of “Delta kite”``.
    words = models.CharField(max_length=200)
    before = models.JSONField()
    after = models.JSONField()
    undone = models.BooleanField(default=False)
    revision = models.PositiveIntegerField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["made_at"], name="draft_step_old")]


class SoldItem(models.Model):
    """That a line of a link's draft, or of one of its editions, sells an item of the catalogue."""

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="sold_items")
    edition = models.ForeignKey(Edition, null=True, on_delete=models.CASCADE, related_name="sold_items")
    line = models.CharField(max_length=80)
    item = models.ForeignKey("catalogue.Item", on_delete=models.PROTECT, related_name="sold_in")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["link", "line"], condition=Q(edition__isnull=True), name="sold_in_draft"),
            models.UniqueConstraint(fields=["edition", "line"], name="sold_in_edition"),
        ]


class LinkTally(models.Model):
    """How many orders a link has over all its editions, and how many are being paid. Rehearsals never count.

    A row of its own, so that counting an order never meets a seller who saves the link.
    """

    link = models.OneToOneField(Link, on_delete=models.CASCADE, related_name="tally", primary_key=True)
    paid = models.PositiveIntegerField(default=0)
    held = models.PositiveIntegerField(default=0)


class LinkCode(models.Model):
    """A discount code of a link, and its uses over all editions; its terms are those of the edition.

    ``normal`` is the code without regard to case and surrounding space.
    """

    link = models.ForeignKey(Link, on_delete=models.CASCADE, related_name="codes")
    normal = models.CharField(max_length=250)
    paid = models.PositiveIntegerField(default=0)
    held = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["link", "normal"], name="link_code_once")]


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


def items_of_draft(link: Link) -> dict[str, Any]:
    """The items that the draft sells, by line."""
    return {sold.line: sold.item for sold in link.sold_items.all() if sold.edition_id is None}
