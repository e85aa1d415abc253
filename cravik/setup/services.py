"""Named writes of Setup."""

from __future__ import annotations

from datetime import datetime

from django.db import transaction

from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.defaults import tell_followers
from cravik.setup.happened import record
from cravik.setup.models import Default


@transaction.atomic
def change_business(business: Business, now: datetime, *, by: Actor) -> None:
    """Save what the business is. Where it is decides which tax is at home, so the decision on tax goes along."""
    business.save()
    record(business.pk, "business", "The business", now, by)
    tax = Default.objects.filter(business=business, subject=Default.Subject.TAX).first()
    if tax and "tax" in tax.document and tax.document["tax"]["seller_country"] != business.country:
        tax.document["tax"]["seller_country"] = business.country
        tax.revision += 1
        tax.save(update_fields=["document", "revision"])
    tell_followers(business, now)
