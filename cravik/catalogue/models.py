"""Items, and what hangs on them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.core.pricing.money import Money

if TYPE_CHECKING:
    from cravik.people.models import Business


class ItemQuerySet(models.QuerySet["Item"]):
    def of(self, business: Business) -> ItemQuerySet:
        return self.filter(business=business)


class Item(models.Model):
    """A thing that is sold. ``revision`` counts the saves, so that a second tab notices."""

    class Kind(models.TextChoices):
        GOODS = "goods", "goods that are sent"
        DOWNLOAD = "download", "a download"
        SERVICE = "service", "a service"
        SEAT = "seat", "a seat"

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    name = models.CharField(max_length=120)
    words = models.TextField(blank=True)
    kind = models.CharField(max_length=8, choices=Kind.choices, default=Kind.GOODS)
    code = models.CharField(max_length=40, blank=True)
    weight_g = models.PositiveIntegerField(default=0)
    tax_category = models.CharField(max_length=40, default="standard")
    #: Of all its prices and additions.
    currency = models.CharField(max_length=3)
    #: Out of the list, and still there for the links that sell it.
    archived = models.BooleanField(default=False)
    revision = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField()
    changed_at = models.DateTimeField()

    objects = ItemQuerySet.as_manager()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "code"], condition=~Q(code=""), name="item_code_unique"),
        ]
        indexes = [models.Index(fields=["business", "archived", "name"], name="item_by_name")]

    def __str__(self) -> str:
        return self.name

    @property
    def path(self) -> str:
        return reverse("catalogue:item", args=[self.pk])

    @property
    def price(self) -> Money | None:
        """The price to start from, or None while it has none."""
        return next((price.amount for price in self.prices.all()), None)


class ItemPrice(models.Model):
    """One of an item's prices; the first is the one to start from."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="prices")
    label = models.CharField(max_length=60, blank=True)
    amount_minor = models.PositiveBigIntegerField()
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["item", "position"], name="item_price_position")]

    @property
    def amount(self) -> Money:
        return Money(self.amount_minor, self.item.currency)


class Picture(models.Model):
    """A photo of an item, kept as WebP files of several widths.

    ``focus_x`` and ``focus_y`` are the point that stays in sight where it is cropped, in per cent from
    the left and the top.
    """

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="pictures")
    name = models.CharField(max_length=32, unique=True)
    #: Of the files that there are, ascending.
    widths = models.JSONField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    words = models.CharField(max_length=200, blank=True)
    focus_x = models.PositiveSmallIntegerField(default=50)
    focus_y = models.PositiveSmallIntegerField(default=50)
    position = models.PositiveSmallIntegerField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["position", "id"]

    @property
    def small(self) -> str:
        """The address of its smallest file."""
        return reverse("pictures:show", args=[self.name, self.widths[0]])

    @property
    def largest(self) -> str:
        """The address of its largest file."""
        return reverse("pictures:show", args=[self.name, self.widths[-1]])

    @property
    def sources(self) -> str:
        """Its addresses with their widths, as ``srcset`` has it."""
        return ", ".join(f"{reverse('pictures:show', args=[self.name, width])} {width}w" for width in self.widths)


class OptionGroup(models.Model):
    """A group of options, such as the span."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="option_groups")
    name = models.CharField(max_length=40)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["item", "name"], name="option_group_name_unique")]


class Option(models.Model):
    """One option of a group. ``add_minor`` (signed) goes onto the price, ``weight_g`` onto the weight."""

    group = models.ForeignKey(OptionGroup, on_delete=models.CASCADE, related_name="options")
    name = models.CharField(max_length=40)
    add_minor = models.BigIntegerField(default=0)
    weight_g = models.PositiveIntegerField(default=0)
    code = models.CharField(max_length=20, blank=True)
    picture = models.ForeignKey(Picture, null=True, on_delete=models.SET_NULL, related_name="+")
    #: Former names, each of the group and the option: what was published under them sells from this one's stock.
    known_as = models.JSONField(default=list)
    position = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["group", "name"], name="option_name_unique")]

    @property
    def add(self) -> Money:
        return Money(self.add_minor, self.group.item.currency)


def variant_key(option_ids: Sequence[int]) -> str:
    """The same whatever the order in which the options are named."""
    return ".".join(str(option_id) for option_id in sorted(option_ids))


class Variant(models.Model):
    """One way to pick an option of every group, and its stock. An item without options has one.

    ``count`` is None where nothing is counted; it falls below zero where more is sold than there is.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="variants")
    #: The ids of its options in ascending order, joined by points.
    key = models.CharField(max_length=64, blank=True)
    code = models.CharField(max_length=40, blank=True)
    count = models.IntegerField(null=True)
    tell_at = models.PositiveIntegerField(null=True)
    #: The seller was told that ``tell_at`` was reached; cleared when there is more again.
    told = models.BooleanField(default=False)
    sells_beyond = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["item", "key"], name="variant_once"),
            models.UniqueConstraint(fields=["business", "code"], condition=~Q(code=""), name="variant_code_unique"),
        ]

    @property
    def option_ids(self) -> tuple[int, ...]:
        return tuple(int(part) for part in self.key.split(".") if part)


class ItemFile(models.Model):
    """A file that buyers of an item may download. ``key`` names it on the disk, and stands in no address."""

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="files")
    key = models.CharField(max_length=32, unique=True)
    title = models.CharField(max_length=120)
    size = models.PositiveBigIntegerField(help_text="bytes")
    #: Given to no new buyer; who bought it before can still take it.
    archived = models.BooleanField(default=False)
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.title


class AccessCode(models.Model):
    """One of an item's access codes: each is given to one sale. It is held while a buyer pays."""

    class State(models.TextChoices):
        FREE = "free"
        HELD = "held"
        GIVEN = "given"

    item = models.ForeignKey(Item, on_delete=models.CASCADE, related_name="access_codes")
    code = models.CharField(max_length=200)
    state = models.CharField(max_length=5, choices=State.choices, default=State.FREE)
    given_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["item", "code"], name="access_code_once"),
            models.CheckConstraint(
                condition=Q(state="given", given_at__isnull=False) | (~Q(state="given") & Q(given_at__isnull=True)),
                name="access_code_given_has_instant",
            ),
        ]
        indexes = [models.Index(fields=["item", "state", "id"], name="access_code_next")]

    def __str__(self) -> str:
        return self.code


class TableUpload(models.Model):
    """A table that was brought in: it is checked, waits for the seller's word, and is written; one a business.

    What may take long is done by the worker, which finds it by its state. ``summary`` is what the check found, or what
    was done.
    """

    class State(models.TextChoices):
        CHECKING = "checking"
        READY = "ready"
        WRITING = "writing"
        DONE = "done"
        FAILED = "failed"

    BUSY = (State.CHECKING, State.WRITING)

    business = models.OneToOneField("setup.Business", on_delete=models.CASCADE)
    name = models.CharField(max_length=100)
    head = models.JSONField()
    #: Line of the file and cells of each row.
    rows = models.JSONField()
    state = models.CharField(max_length=8, choices=State.choices, default=State.CHECKING)
    good_rows_only = models.BooleanField(default=False)
    #: Who said that it is to be written.
    confirmed_by = models.ForeignKey("setup.User", null=True, on_delete=models.SET_NULL)
    summary = models.JSONField(default=dict)
    made_at = models.DateTimeField()

    @property
    def is_busy(self) -> bool:
        return self.state in self.BUSY
