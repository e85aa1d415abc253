"""What one buyer was about to pay."""

from __future__ import annotations

from django.db import models
from django.urls import reverse

from cravik.core.documents.quote import read_kept_quote
from cravik.core.money import Money
from cravik.core.quote import Quote
from cravik.core.wording import country_words
from cravik.setup.contact import Contact, contact_of


class Checkout(models.Model):
    """One opened page that was sent off: who pays, what, and the quote that they saw.

    ``reference`` was given to the page when it was opened and comes back with it, so one page is
    one checkout however often it is sent. The quote is stored whole and never computed again.
    """

    business = models.ForeignKey("setup.Business", on_delete=models.PROTECT)
    link = models.ForeignKey("links.Link", on_delete=models.PROTECT)
    reference = models.CharField(max_length=16, unique=True)
    rehearsal = models.BooleanField()
    offer_document = models.JSONField()
    quote_document = models.JSONField()
    total_minor = models.PositiveBigIntegerField()
    currency = models.CharField(max_length=3)
    buyer_name = models.CharField(max_length=200)
    buyer_email = models.EmailField()
    #: Where the buyer is, as far as they were asked: country, region, street, postcode, town, tax_number.
    where = models.JSONField(default=dict)
    #: The options that the buyer chose, by the names of their groups.
    picked = models.JSONField(default=dict)
    #: The terms that the buyer agreed to.
    agreed_to = models.ForeignKey("setup.ConditionsVersion", null=True, on_delete=models.PROTECT)
    #: Contact and statement where the link has its own; see ``contact``.
    own_contact = models.JSONField(default=dict)
    visit_id = models.PositiveBigIntegerField(null=True)
    visitor = models.CharField(max_length=32, blank=True)
    made_at = models.DateTimeField()

    class Meta:
        indexes = [models.Index(fields=["link", "buyer_email", "made_at"], name="checkout_again")]

    @property
    def total(self) -> Money:
        return Money(self.total_minor, self.currency)

    @property
    def quote(self) -> Quote:
        """What the buyer saw and was charged."""
        return read_kept_quote(self.quote_document)

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
        country = country_words(self.where["country"])
        return [self.buyer_name, *self.where["street"].split("\n"), town, self.where.get("region") or "", country]

    @property
    def path(self) -> str:
        return reverse("confirmation:page", args=[self.reference])
