"""What one buyer was about to pay."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.db import models
from django.urls import reverse
from django.utils.functional import cached_property

from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import Quote
from cravik.later import later
from cravik.setup.contact import Contact, contact_of

if TYPE_CHECKING:
    from cravik.core.documents import quote as quote_documents
    from cravik.core.text import countries
else:
    quote_documents, countries = later("cravik.core.documents.quote"), later("cravik.core.text.countries")


class Checkout(models.Model):
    """One opened page that was sent off: who pays, and what they said.

    ``reference`` was given to the page when it was opened and comes back with it, so one page is
    one checkout however often it is sent. What is bought stands in its lines.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT, db_index=False)
    reference = models.CharField(max_length=16, unique=True)
    rehearsal = models.BooleanField()
    total_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    buyer_name = models.CharField(max_length=200)
    buyer_email = models.EmailField()
    #: The address without regard to case, by which one buyer is told from another.
    buyer_key = models.CharField(max_length=254)
    #: Where the buyer is, as far as they were asked: country, region, street, postcode, town, tax_number, company.
    where = models.JSONField(default=dict)
    #: What else was answered, in the order of the page: ``{"key", "label", "answer"}`` each, the label as it was shown.
    answers = models.JSONField(default=list)
    #: What was typed into the page, without the card, and the page's token: to show it once more after a decline.
    typed = models.JSONField(default=dict)
    #: The terms that the buyer agreed to.
    agreed_to = models.ForeignKey("setup.TermsVersion", null=True, on_delete=models.PROTECT, db_index=False)
    #: Contact and statement where the link has its own; see ``contact``.
    own_contact = models.JSONField(default=dict)
    #: Whether the page said that the seller may write once, should the payment fail.
    may_be_written_to = models.BooleanField(default=False)
    #: How numbers and days were written on the page; see ``core/text/money_text.py``.
    number_locale = models.CharField(max_length=35, default="en")
    visit_id = models.PositiveBigIntegerField(null=True)
    visitor = models.CharField(max_length=32, blank=True)
    #: What stands for the buyer's network address on the day of the press; nothing in a rehearsal.
    network = models.CharField(max_length=16, blank=True, default="")
    #: Why its visit was left out when the page was opened, and when that was: whoever pays counts after all.
    left_out = models.CharField(max_length=8, blank=True)
    opened_at = models.DateTimeField(null=True)
    made_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["buyer_key", "made_at"], name="checkout_again")]

    def is_of(self, buyer_key: str, buyer_name: str) -> bool:
        """Whether this is the checkout of the buyer with that address (as a key) and name."""
        return (self.buyer_key, self.buyer_name) == (buyer_key, buyer_name)

    @property
    def total(self) -> Money:
        return Money(self.total_minor, self.currency)

    @cached_property
    def line(self) -> CheckoutLine:
        """Its one line."""
        return self.lines.all()[0]

    @property
    def quote(self) -> Quote:
        """What the buyer saw and agreed to pay."""
        return self.line.quote

    @property
    def contact(self) -> Contact:
        """Whom the buyer asks, and what their statement says."""
        return contact_of(self.business, self.own_contact)

    @property
    def address_lines(self) -> list[str]:
        """Where it is sent, as on a parcel; nothing where it is not sent."""
        if not self.where.get("street"):
            return []
        town = " ".join(filter(None, (self.where.get("postcode"), self.where.get("town"))))
        country = countries.country_words(self.where["country"]) if self.where.get("country") else ""
        lines = [self.buyer_name, *self.where["street"].split("\n"), town, self.where.get("region") or "", country]
        return [line for line in lines if line]

    @property
    def path(self) -> str:
        return reverse("confirmation:page", args=[self.reference])


class CheckoutLine(models.Model):
    """What of one link is bought: by which version, at which spot, the basket, and the quote that the buyer saw.

    The quote is stored whole and never computed again; it names each of its lines with the options. ``code`` is
    the discount code that counted. It is found by its checkout alone: an index more is a page more to write with
    every payment.
    """

    checkout = models.ForeignKey(Checkout, on_delete=models.CASCADE, related_name="lines", db_index=False)
    position = models.PositiveSmallIntegerField(default=0)
    link = models.ForeignKey("links.Link", on_delete=models.PROTECT, db_index=False)
    version = models.ForeignKey("links.Version", on_delete=models.PROTECT, db_index=False)
    spot = models.ForeignKey("links.Spot", on_delete=models.PROTECT, db_index=False)
    code = models.ForeignKey("links.LinkCode", null=True, on_delete=models.PROTECT, db_index=False)
    title = models.CharField(max_length=120)
    #: The names of the chosen options, by which the order is found.
    options = models.CharField(max_length=1000, blank=True)
    basket_document = models.JSONField()
    quote_document = models.JSONField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["checkout", "position"], name="checkout_line_once")]

    @property
    def quote(self) -> Quote:
        return quote_documents.read_kept_quote(self.quote_document)

    @property
    def is_paid_over_time(self) -> bool:
        """Whether something is due later."""
        return bool(self.quote_document["schedule"])

    @property
    def picked(self) -> list[tuple[str, str]]:
        """Each line's name and its options, where some were chosen."""
        lines = self.quote_document["lines"]
        return [(line["name"], ", ".join(line["options"])) for line in lines if line["options"]]
