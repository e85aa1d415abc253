"""Orders, and the book that numbers them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.core.money import Money

if TYPE_CHECKING:
    from cravik.setup.models import Business


class OrderQuerySet(models.QuerySet["Order"]):
    def of(self, business: Business) -> OrderQuerySet:
        return self.filter(business=business)

    def counted(self) -> OrderQuerySet:
        """Without rehearsals."""
        return self.filter(rehearsal=False)

    def due_letters(self) -> OrderQuerySet:
        """Those whose letters are still to be written, oldest first."""
        related = ("business", "checkout__agreed_to__conditions", "attempt__access_code", "link")
        due = self.filter(letters_due=True).select_related(*related)
        return due.prefetch_related("downloads__file").order_by("id")


class Order(models.Model):
    """What was paid. It is made in the transaction that records the approval, once a checkout.

    The offer and the quote are kept whole, as the buyer saw them.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    link = models.ForeignKey("links.Link", on_delete=models.PROTECT)
    checkout = models.OneToOneField("checkout.Checkout", on_delete=models.PROTECT)
    attempt = models.OneToOneField("payments.Attempt", on_delete=models.PROTECT)
    number = models.PositiveIntegerField()
    rehearsal = models.BooleanField()
    buyer_name = models.CharField(max_length=200)
    buyer_email = models.EmailField()
    title = models.CharField(max_length=120)
    offer_document = models.JSONField()
    quote_document = models.JSONField()
    total_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    paid_at = models.DateTimeField()
    letters_due = models.BooleanField(default=True)

    objects = OrderQuerySet.as_manager()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "rehearsal", "number"], name="order_number_unique"),
        ]
        indexes = [
            models.Index(fields=["business", "-paid_at"], name="order_newest"),
            # Covers money by link over a period.
            models.Index(
                fields=["business", "paid_at", "link", "currency", "total_minor"],
                condition=Q(rehearsal=False),
                name="order_money",
            ),
            models.Index(fields=["id"], condition=Q(letters_due=True), name="order_letters_due"),
            models.Index(fields=["link", "paid_at"], condition=Q(rehearsal=False), name="order_last_paid"),
        ]

    def __str__(self) -> str:
        return f"rehearsal {self.number}" if self.rehearsal else f"order {self.number}"

    @property
    def total(self) -> Money:
        return Money(self.total_minor, self.currency)


class OrderBook(models.Model):
    """The last number given to an order, and to a rehearsed one, in a business."""

    business = models.OneToOneField("setup.Business", on_delete=models.PROTECT)
    last_number = models.PositiveIntegerField(default=1000)
    last_rehearsal = models.PositiveIntegerField(default=0)


class Download(models.Model):
    """A buyer's right to take one file: so many times, until a day. ``key`` is all that its address holds."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="downloads")
    file = models.ForeignKey("catalogue.ItemFile", on_delete=models.PROTECT)
    key = models.CharField(max_length=32, unique=True)
    taken = models.PositiveIntegerField(default=0)
    most = models.PositiveIntegerField()
    until = models.DateTimeField()

    class Meta:
        ordering = ["file_id"]
        constraints = [
            models.UniqueConstraint(fields=["order", "file"], name="download_once"),
            models.CheckConstraint(condition=Q(taken__lte=models.F("most")), name="download_counted"),
        ]

    @property
    def path(self) -> str:
        return reverse("confirmation:download", args=[self.key])

    @property
    def left(self) -> int:
        """How many times it may still be taken, its day aside."""
        return self.most - self.taken
