"""Rows for tests, each with the least that makes it whole."""

from __future__ import annotations

from datetime import UTC, datetime

import factory

from cravik.catalogue.drafts import ItemDraft, OptionDraft, OptionGroupDraft, PriceDraft
from cravik.catalogue.models import Item
from cravik.catalogue.services import make_item as write_item
from cravik.core.pricing.money import Money
from cravik.links.bench.changes import Change
from cravik.links.bench.saving import change_parts
from cravik.links.life import lifecycle
from cravik.links.making import drafts
from cravik.links.models import Link
from cravik.people.actors import command
from cravik.people.models import Business, Membership, User

BY = command("tests")
NOW = datetime(2026, 11, 23, 12, 0, tzinfo=UTC)
PASSWORD = "string and sticks"
BROWSER = "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"


class UserFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = User
        skip_postgeneration_save = True

    email = factory.Sequence(lambda number: f"seller{number}@dunes.example")
    name = "Orla Windle"
    password = factory.django.Password(PASSWORD)


class BusinessFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Business

    name = factory.Sequence(lambda number: f"Kites {number}")
    support_email = "hello@dunes.example"
    country = "IE"
    currency = "EUR"
    statement_text = "WINDLESTRAW"
    made_at = NOW


class MembershipFactory(factory.django.DjangoModelFactory):
    class Meta:
        model = Membership

    user = factory.SubFactory(UserFactory)
    business = factory.SubFactory(BusinessFactory)


def make_business() -> Business:
    """A business with one member."""
    business: Business = MembershipFactory().business
    return business


def make_draft(business: Business | None = None, purpose: str = "Kite repair", minor: int = 2400) -> Link:
    return drafts.make_link(business or make_business(), purpose, Money(minor, "EUR"), NOW, by=BY)


def make_live(business: Business | None = None, purpose: str = "Kite repair", minor: int = 2400) -> Link:
    return lifecycle.publish(make_draft(business, purpose, minor), NOW, by=BY)


def typed(
    link: Link, minor: int, title: str = "Kite repair", currency: str = "EUR", weight_g: int | None = None
) -> list[Change]:
    """What is typed on the bench of a link with one line of its own; one with a weight is sent."""
    (line,) = link.draft["offer"]["lines"]
    price = {"kind": "fixed", "amount": Money(minor, currency).major}
    changes = [Change("currency", currency), Change("price", price, line["key"]), Change("title", title)]
    if weight_g is not None:
        sending = {"ships": True, "weight_g": weight_g, "tax_category": "standard"}
        changes.append(Change("sending", sending, line["key"]))
    return changes


def change_price(link: Link, minor: int, currency: str = "EUR") -> Link:
    """The link with another price on its bench."""
    return change_parts(link, typed(link, minor, link.title, currency), link.revision, NOW, by=BY).link


def make_item(
    business: Business | None = None,
    name: str = "Delta kite",
    minor: int = 4800,
    *,
    code: str = "",
    choices: dict[str, tuple[str, ...]] | None = None,
) -> Item:
    """An item with one price, and groups of options that add nothing."""
    draft = ItemDraft(
        name=name,
        words="",
        kind="goods",
        code=code,
        weight_g=0,
        tax_category="standard",
        currency="EUR",
        prices=(PriceDraft("", Money(minor, "EUR")),),
        option_groups=tuple(
            OptionGroupDraft(group, tuple(OptionDraft(option, Money(0, "EUR")) for option in options))
            for group, options in (choices or {}).items()
        ),
    )
    return write_item(business or make_business(), draft, NOW, by=BY)
