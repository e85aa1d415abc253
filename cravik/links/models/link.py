"""A link: an offer with an address, as its seller works on it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.core.documents.data import EffectiveData, FormerPrices, LinkData
from cravik.core.errors import Fault
from cravik.core.link.content import LinkContent
from cravik.core.pricing.offer import Offer
from cravik.later import later

if TYPE_CHECKING:
    from cravik.core.documents import link as link_documents
    from cravik.core.documents import link_draft as drafts
    from cravik.people.models import Business
else:
    link_documents, drafts = later("cravik.core.documents.link"), later("cravik.core.documents.link_draft")


class LinkQuerySet(models.QuerySet["Link"]):
    def of(self, business: Business) -> LinkQuerySet:
        """The business's links, archived ones too, but for those that were removed."""
        return self.filter(business=business, removed_at=None)


class Link(models.Model):
    """An offer with an address.

    ``draft`` is the link document as it stands on the bench; ``effective`` is what buyers would see of it
    (None while something is missing); ``version`` is what they see, and changes only by publishing.
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
    draft: models.JSONField[LinkData, LinkData] = models.JSONField()
    #: As in ``Version``.
    effective: models.JSONField[EffectiveData | None, EffectiveData | None] = models.JSONField(null=True)
    #: Prices of other kinds that the draft's lines had, by line and kind: going back to a kind brings them back.
    former_prices: models.JSONField[FormerPrices, FormerPrices] = models.JSONField(default=dict)
    #: The cases of its what-if table, as basket documents without their day; None until its seller changed one.
    what_if = models.JSONField(null=True)
    #: Keys of the advice on the draft that its seller dismissed.
    dismissed_advice = models.JSONField(default=list)
    revision = models.PositiveIntegerField(default=1)
    version = models.ForeignKey("Version", null=True, on_delete=models.PROTECT, related_name="+")
    #: When what is published ends by itself, if it does: the clock looks for it here.
    closes_at = models.DateTimeField(null=True)
    #: When a pause is over by itself, if it is.
    resumes_at = models.DateTimeField(null=True)
    #: Whether the draft differs from what is published; as ``has_unpublished_changes`` works it out.
    is_changed = models.BooleanField(default=False)
    #: What it was copied from, as long as that is there.
    copied_from = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="+")
    #: Whether New link offers to start from it.
    is_starting_point = models.BooleanField(default=False)
    #: Archived, it stands in no list and its address says that it is over; removed, it is as if it had never been.
    archived_at = models.DateTimeField(null=True)
    removed_at = models.DateTimeField(null=True)
    #: Whether search engines may find its pages.
    is_findable = models.BooleanField(default=False)
    made_at = models.DateTimeField()
    changed_at = models.DateTimeField()
    published_at = models.DateTimeField(null=True)
    state_since = models.DateTimeField()

    objects = LinkQuerySet.as_manager()
    _read: tuple[Any, LinkContent] | None = None

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["business", "name"], condition=Q(removed_at__isnull=True), name="link_name_taken_once"
            ),
            models.CheckConstraint(
                condition=Q(state="draft", version__isnull=True) | (~Q(state="draft") & Q(version__isnull=False)),
                name="link_published_has_version",
            ),
            models.CheckConstraint(
                condition=Q(state="ended", ended_why__gt="") | (~Q(state="ended") & Q(ended_why="")),
                name="link_ended_says_why",
            ),
            models.CheckConstraint(
                condition=Q(resumes_at__isnull=True) | Q(state="paused"), name="link_resumes_after_a_pause"
            ),
        ]
        indexes = [
            models.Index(fields=["business", "-made_at"], name="link_newest"),
            models.Index(
                fields=["closes_at"],
                condition=Q(state__in=["live", "paused"], closes_at__isnull=False),
                name="link_due",
            ),
            models.Index(
                fields=["resumes_at"], condition=Q(state="paused", resumes_at__isnull=False), name="link_resumes"
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def offer(self) -> Offer:
        """What the draft sells, with what it has from Setup. Raises ``ValueError`` while it has gaps."""
        return self.content.offer

    @property
    def content(self) -> LinkContent:
        """The draft with what it has of Setup, read once as long as it is the same. Raises ``ValueError`` while it has
        gaps."""
        if self.effective is None:
            raise ValueError("the draft has gaps")
        if self._read is None or self._read[0] is not self.effective:
            self._read = (self.effective, link_documents.read_link(self.effective["link"]))
        return self._read[1]

    @property
    def title(self) -> str:
        """What the draft is for, or nothing while that is not decided."""
        return str(self.draft["offer"].get("title", ""))

    @property
    def gaps(self) -> tuple[Fault, ...]:
        """What the draft lacks."""
        return drafts.gaps_in(self.draft) if self.effective is None else ()

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
    def waiting_count(self) -> int:
        """How many people wait to hear that it can be bought."""
        return self.waiting.confirmed().count()

    @property
    def has_unpublished_changes(self) -> bool:
        version = self.version
        return version is not None and version.effective != self.effective


def items_of_draft(link: Link) -> dict[str, Any]:
    """The items that the draft sells, by line."""
    return {sold.line: sold.item for sold in link.sold_items.all() if sold.version_id is None}
