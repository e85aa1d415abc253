"""Documents that were issued for orders, the series that number them, and what a seller decided of them."""

from __future__ import annotations

from django.db import models
from django.db.models import Q
from django.urls import reverse

from cravik.core.invoicing.numbers import label_of
from cravik.core.pricing.money import Money
from cravik.orders.models.order import Order


class DocumentKind(models.TextChoices):
    """Each has a series of its own."""

    RECEIPT = "receipt", "Receipt"
    INVOICE = "invoice", "Invoice"
    #: Of money that went back; it names what it corrects.
    CORRECTION = "correction", "Credit note"


class NumberSeries(models.Model):
    """How a business numbers its documents of a kind, and the last number that it gave. Rehearsals have their own.

    A series ``with_year`` begins anew with each; ``year`` is that of the last number.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, db_index=False)
    kind = models.CharField(max_length=10, choices=DocumentKind.choices)
    rehearsal = models.BooleanField(default=False)
    prefix = models.CharField(max_length=24, blank=True)
    with_year = models.BooleanField(default=True)
    year = models.PositiveSmallIntegerField(default=0)
    last_number = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business", "kind", "rehearsal"], name="number_series_once")]


class IssuedDocument(models.Model):
    """A document as it was issued: its ``content`` is whole, and nothing of it ever changes.

    It is of one movement of money, of which there is one of each kind. ``stem`` and ``number`` are its number, given in
    the transaction that makes it.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)
    order = models.ForeignKey(Order, on_delete=models.PROTECT, related_name="documents")
    kind = models.CharField(max_length=10, choices=DocumentKind.choices)
    rehearsal = models.BooleanField()
    stem = models.CharField(max_length=32, blank=True)
    number = models.PositiveIntegerField()
    movement = models.ForeignKey(
        "payments.Movement", on_delete=models.PROTECT, related_name="documents", db_index=False
    )
    corrects = models.ForeignKey(
        "self", null=True, on_delete=models.PROTECT, related_name="corrections", db_index=False
    )
    currency = models.CharField(max_length=3)
    total_minor = models.PositiveBigIntegerField()
    tax_minor = models.PositiveBigIntegerField()
    content = models.JSONField()
    issued_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["business", "stem", "number"], name="issued_number_once"),
            models.UniqueConstraint(fields=["movement", "kind"], name="issued_once_a_movement"),
            models.CheckConstraint(
                condition=Q(kind="correction") | Q(corrects__isnull=True), name="issued_corrects_as_correction"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind_words} {self.label}"

    @property
    def label(self) -> str:
        """Its number as it is written."""
        return label_of(self.stem, self.number)

    @property
    def kind_words(self) -> str:
        return str(DocumentKind(self.kind).label)

    @property
    def total(self) -> Money:
        return Money(self.total_minor, self.currency)

    @property
    def path(self) -> str:
        """Its page for sellers."""
        return reverse("orders:document", args=[self.pk])


class DocumentDesk(models.Model):
    """How far documents are made: every movement up to that one has its documents. One row, in which whoever makes
    documents writes first, so that they are made one after the other."""

    last_movement_id = models.PositiveBigIntegerField(default=0)


class OrderSettings(models.Model):
    """What a seller decided of documents and refunds; no row: nothing was decided.

    ``revision`` counts the saves, so that a second tab notices.
    """

    class Invoices(models.TextChoices):
        ASKED = "asked", "When a buyer asks for one"
        ALWAYS = "always", "For every order"
        NEVER = "never", "Never; receipts only"

    business = models.OneToOneField("setup.Business", on_delete=models.CASCADE, primary_key=True)
    invoices = models.CharField(max_length=6, choices=Invoices.choices, default=Invoices.ASKED)
    shows_quantities = models.BooleanField(default=True)
    #: A sentence at the foot of every document, such as one that a tax office asks for.
    note = models.CharField(max_length=300, blank=True, default="")
    #: Extra fields of the seller's on every document: ``[label, value]`` each.
    fields = models.JSONField(default=list)
    #: What a processor charges for an invoice: a percentage of the total, as text, a sum, and at most.
    cost_percent = models.CharField(max_length=8, blank=True, default="")
    cost_fixed_minor = models.PositiveIntegerField(default=0)
    cost_most_minor = models.PositiveIntegerField(null=True)
    #: Whether the processor gives its fee back with a refund.
    fee_comes_back = models.BooleanField(default=False)
    revision = models.PositiveIntegerField(default=0)
    changed_at = models.DateTimeField(null=True)
