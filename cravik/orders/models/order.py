"""Orders, and the book that numbers them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.db import models
from django.db.models import Q, Sum
from django.urls import reverse

from cravik.core.pricing.money import Money
from cravik.journal.models.sums import SumKey
from cravik.payments.models import Attempt, Hold, Movement

if TYPE_CHECKING:
    from cravik.people.models import Business


def _moved(**which: Any) -> models.Subquery:
    """The sum of the movements of an order."""
    moved = Movement.objects.filter(checkout=models.OuterRef("checkout"), **which).order_by().values("checkout")
    return models.Subquery(moved.annotate(minor=Sum("amount_minor")).values("minor"))


class OrderQuerySet(models.QuerySet["Order"]):
    def of(self, business: Business) -> OrderQuerySet:
        return self.filter(business=business)

    def counted(self) -> OrderQuerySet:
        """Those that count: without rehearsals, and without what was promised and is not paid yet."""
        return self.filter(rehearsal=False, paid_at__isnull=False)

    def with_returned(self) -> OrderQuerySet:
        """Each with ``returned_minor``, the sum of what was given back: below zero, or none."""
        return self.annotate(returned_minor=_moved(kind=Movement.Kind.REFUND))

    def due_letters(self) -> OrderQuerySet:
        """Those whose letters are still to be written, oldest first."""
        related = ("business", "checkout__agreed_to__terms", "link")
        due = self.filter(letters_due=True, letters_tries__lt=MAX_LETTER_TRIES).select_related(*related)
        return due.prefetch_related("downloads__file", "documents", *PARTS).order_by("id")


#: What an order's page and letters need of its checkout.
PARTS = ("checkout__lines", "checkout__attempts", "checkout__holds__access_code", "checkout__holds__variant")


MAX_LETTER_TRIES = 3


class Stage(models.TextChoices):
    """How far the seller is with an order."""

    TO_DO = "to_do", "to do"
    SENT = "sent", "sent"
    DONE = "done", "done"


class Order(models.Model):
    """What was bought. It is made once a checkout: by its first approval, by nothing being due, or by a promise to pay.

    What the buyer saw, said and agreed to pay is the checkout's; what they paid is the sum of the ledger.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)
    checkout = models.OneToOneField("checkout.Checkout", on_delete=models.PROTECT)
    link = models.ForeignKey("links.Link", on_delete=models.PROTECT, db_index=False)
    version = models.ForeignKey("links.Version", on_delete=models.PROTECT)
    spot = models.ForeignKey("links.Spot", on_delete=models.PROTECT, db_index=False)
    number = models.PositiveIntegerField()
    rehearsal = models.BooleanField()
    buyer_name = models.CharField(max_length=200)
    buyer_email = models.EmailField()
    #: None in a rehearsal.
    buyer = models.ForeignKey(
        "buyers.Buyer", null=True, on_delete=models.PROTECT, related_name="orders", db_index=False
    )
    title = models.CharField(max_length=120)
    #: The names of the chosen options, by which it is found.
    options = models.CharField(max_length=1000, blank=True, default="")
    #: By which way it was paid first, or is promised to be; that nothing was due is one.
    way = models.CharField(max_length=12, blank=True, default="")
    #: The discount code that counted.
    code = models.ForeignKey("links.LinkCode", null=True, on_delete=models.PROTECT, db_index=False)
    currency = models.CharField(max_length=3)
    made_at = models.DateTimeField()
    #: When it was first paid, or made where nothing was due; none as long as money is only promised. From then on it
    #: counts.
    paid_at = models.DateTimeField(null=True)
    #: The country that the buyer said they are in, or it is sent to; nothing where they were not asked.
    country = models.CharField(max_length=2, blank=True, default="")
    #: What moved for it so far, in minor units: the sum of its lines in the ledger, raised and lowered with each.
    taken_minor = models.BigIntegerField(default=0)
    #: To do from the first where something is sent; done where nothing is. Its seller says the rest.
    stage = models.CharField(max_length=5, choices=Stage.choices, default=Stage.DONE)
    #: To whom its invoice is made out, where its buyer said that after paying; see ``orders/invoicing/parties.py``.
    invoice_to = models.JSONField(null=True)
    #: Whether all that was paid for it went back.
    is_refunded = models.BooleanField(default=False)
    letters_due = models.BooleanField(default=True)
    #: How often writing them failed; after ``MAX_LETTER_TRIES`` its seller has to say that it is tried again.
    letters_tries = models.PositiveSmallIntegerField(default=0)

    objects = OrderQuerySet.as_manager()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["business", "rehearsal", "number"], name="order_number_unique"),
            models.CheckConstraint(
                condition=Q(rehearsal=True, buyer__isnull=True) | Q(rehearsal=False, buyer__isnull=False),
                name="order_has_its_buyer",
            ),
        ]
        indexes = [
            models.Index(fields=["business", "-made_at"], name="order_newest"),
            models.Index(fields=["id"], condition=Q(letters_due=True), name="order_letters_due"),
            models.Index(fields=["business", "-made_at"], condition=Q(stage=Stage.TO_DO), name="order_to_do"),
            models.Index(fields=["business", "-made_at"], condition=Q(paid_at__isnull=True), name="order_unpaid"),
            models.Index(fields=["link", "paid_at"], condition=Q(rehearsal=False), name="order_last_paid"),
            # Finds what one buyer has, of all links and of one.
            models.Index(fields=["buyer", "link"], condition=Q(buyer__isnull=False), name="order_of_buyer"),
            models.Index(fields=["code"], condition=Q(code__isnull=False), name="order_of_code"),
        ]

    def __str__(self) -> str:
        return f"rehearsal {self.number}" if self.rehearsal else f"order {self.number}"

    @property
    def path(self) -> str:
        """Its page, under its number."""
        return reverse("orders:rehearsal" if self.rehearsal else "orders:order", args=[self.number])

    @property
    def state(self) -> str:
        """In a word: unpaid, refunded, or how far its seller is."""
        if self.paid_at is None:
            return "unpaid"
        return "refunded" if self.is_refunded else str(Stage(self.stage).label)

    @property
    def refund_path(self) -> str:
        """Where money of it is given back."""
        return reverse("orders:refund_rehearsal" if self.rehearsal else "orders:refund", args=[self.number])

    @property
    def lacks_letters(self) -> bool:
        """Whether its letters could not be written, and nobody tries any more."""
        return self.letters_due and self.letters_tries >= MAX_LETTER_TRIES

    @property
    def paid(self) -> Money:
        """The money that moved for it, all told."""
        return Money(self.taken_minor, self.currency)

    @property
    def returned(self) -> Money:
        """What was given back of it: below zero, or nothing. Of one that came ``with_returned``."""
        return Money(self.__dict__["returned_minor"] or 0, self.currency)

    @property
    def charged(self) -> Money:
        """What was paid for it before anything was given back. Of one that came ``with_returned``."""
        return self.paid - self.returned

    @property
    def attempt(self) -> Attempt | None:
        """The approved attempt that made it, or paid it first; None where there was none."""
        approved = (each for each in self.checkout.attempts.all() if each.state == Attempt.State.APPROVED)
        return min(approved, key=lambda each: each.pk, default=None)

    @property
    def was_paid(self) -> bool:
        """Whether money was paid for it, given back since or not; False where nothing was due."""
        return self.attempt is not None and self.attempt.amount_minor > 0

    @property
    def access_codes(self) -> list[str]:
        """The access codes that are its buyer's."""
        return [
            hold.access_code.code
            for hold in self.checkout.holds.all()
            if hold.access_code and hold.state == Hold.State.CONFIRMED
        ]

    @property
    def awaits_files(self) -> bool:
        """Whether something of it is a download of which there is nothing yet."""
        if self.downloads.all() or self.access_codes:
            return False
        bought = [line["key"] for line in self.checkout.line.quote_document["lines"]]
        return self.version.sold_items.filter(line__in=bought, item__kind="download").exists()

    @property
    def stock_codes(self) -> list[str]:
        """The codes of the variants that it took out of stock."""
        held = (hold.variant for hold in self.checkout.holds.all() if hold.state == Hold.State.CONFIRMED)
        return [variant.code for variant in held if variant and variant.code]


class Parcel(models.Model):
    """A parcel of an order that was sent. ``key`` is that of the press by which it was noted, so it is noted once."""

    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="parcels")
    key = models.CharField(max_length=50, unique=True)
    carrier = models.CharField(max_length=60, blank=True)
    #: A number, or the web address where it is followed.
    tracking = models.CharField(max_length=300, blank=True)
    sent_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]

    @property
    def tracking_address(self) -> str:
        """Where it is followed; nothing where only its number is known, or nothing."""
        return self.tracking if self.tracking.startswith(("https://", "http://")) else ""


class TickedLine(models.Model):
    """That what a line of an order asks for is made; ``line`` is its key."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="ticked_lines", db_index=False)
    line = models.CharField(max_length=60)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["order", "line"], name="ticked_line_once")]


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
    #: Who took it last, as visitors are told apart, and when that was counted: what broke off is gone on with.
    last_by = models.CharField(max_length=32, blank=True)
    last_at = models.DateTimeField(null=True)

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


class MoneySum(SumKey):
    """What was taken, net of refunds, in one currency: the same sums as the journal keeps of visits."""

    currency = models.CharField(max_length=3)
    minor = models.BigIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["business_id", "link_id", "facet", "grain", "day", "value", "currency"], name="money_sum_once"
            ),
        ]
        #: Finds a day that is summed again.
        indexes = [models.Index(fields=["business_id", "grain", "day"], name="money_sum_day")]
