"""What was decided, said in a few words."""

from __future__ import annotations

from cravik.core.documents.data import DefaultData
from cravik.core.documents.defaults import read_defaults
from cravik.core.english import counted, listed
from cravik.core.pricing.defaults import OfferDefaults
from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.text.countries import country_words
from cravik.core.text.money_text import format_money
from cravik.people.models import Business
from cravik.setup.contact import contact_of
from cravik.setup.defaults import Defaults, Subject
from cravik.setup.models import Look

_NAMED_SINGLY = 3


def fee_words(defaults: OfferDefaults) -> str:
    if defaults.fee is None:
        return "nothing"
    fixed = f" and {format_money(defaults.fee.fixed)}" if defaults.fee.fixed else ""
    return f"{defaults.fee.percent.text} %{fixed} of each payment"


def tax_words(defaults: OfferDefaults) -> str:
    if defaults.tax is None or not defaults.tax.rates:
        return "no tax"
    rates = defaults.tax.rates
    where = "included in prices" if defaults.tax.prices_include_tax else "added to prices"
    if len(rates) == 1:
        return f"{rates[0].name} {rates[0].percent.text} % in {country_words(rates[0].country)}, {where}"
    countries = dict.fromkeys(rate.country for rate in rates)
    return f"{len(rates)} rates in {counted(len(countries), 'country', 'countries')}, {where}"


def delivery_words(defaults: OfferDefaults) -> str:
    if defaults.delivery is None:
        return "nothing is charged"
    zones = defaults.delivery.zones
    countries = list(dict.fromkeys(country for zone in zones for country in zone.countries))
    if ANYWHERE in countries:
        where = "anywhere"
    elif len(countries) <= _NAMED_SINGLY:
        where = listed([country_words(country) for country in countries], "and")
    else:
        where = f"{len(countries)} countries"
    return f"{counted(len(zones), 'zone', 'zones')}: {where}"


WORDS = {Subject.FEE: fee_words, Subject.TAX: tax_words, Subject.DELIVERY: delivery_words}
TITLES: dict[str, str] = {
    Subject.FEE: "The processor's fee",
    Subject.TAX: "Tax",
    Subject.DELIVERY: "Delivery",
    Subject.LOOK: "Look",
    Subject.TERMS: "Terms",
    Subject.CONTACT: "Contact and statement",
}


def words_of_charges(subject: str, defaults: OfferDefaults) -> str:
    """What the fee, the tax or the delivery is, in a few words."""
    return WORDS[Subject(subject)](defaults)


def words_of_choice(business: Business, subject: str, own: DefaultData | None, defaults: Defaults) -> str:
    """Which look, terms or contact a link has that chose ``own``, or the default's where that is None."""
    if subject == Subject.LOOK:
        looks = Look.objects.filter(business=business)
        look = (looks.filter(is_default=True) if own is None else looks.filter(id=own["id"])).first()
        return look.name if look else "Cravik's default"
    if subject == Subject.TERMS:
        names = {pk: name for name, pk in defaults.terms_ids.items()}
        chosen = defaults.documents[subject] if own is None else defaults.terms_named(names.get(own["id"]))
        return f"{chosen['name']}, version {chosen['number']}" if chosen else "buyers agree to nothing"
    return "{support_email}, {statement_text}".format(**contact_of(business, own))


def default_words(business: Business, subject: str, defaults: Defaults) -> str:
    """What Setup says on a subject, in a few words."""
    if subject in WORDS:
        return words_of_charges(subject, read_defaults(defaults.documents[subject]))
    return words_of_choice(business, subject, None, defaults)
