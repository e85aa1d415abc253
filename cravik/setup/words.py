"""What was decided, said in a few words."""

from __future__ import annotations

from cravik.core.documents.standing import read_standing
from cravik.core.english import counted, listed
from cravik.core.pricing.delivery import ANYWHERE
from cravik.core.pricing.standing import StandingTerms
from cravik.core.text.countries import country_words
from cravik.core.text.money_text import format_money
from cravik.people.models import Business
from cravik.setup.contact import contact_of
from cravik.setup.defaults import Defaults, Document, Subject
from cravik.setup.models import Kit

_NAMED_SINGLY = 3


def fee_words(terms: StandingTerms) -> str:
    if terms.fee is None:
        return "nothing"
    fixed = f" and {format_money(terms.fee.fixed)}" if terms.fee.fixed else ""
    return f"{terms.fee.percent.text} %{fixed} of each payment"


def tax_words(terms: StandingTerms) -> str:
    if terms.tax is None or not terms.tax.rates:
        return "no tax"
    rates = terms.tax.rates
    where = "included in prices" if terms.tax.prices_include_tax else "added to prices"
    if len(rates) == 1:
        return f"{rates[0].name} {rates[0].percent.text} % in {country_words(rates[0].country)}, {where}"
    countries = dict.fromkeys(rate.country for rate in rates)
    return f"{len(rates)} rates in {counted(len(countries), 'country', 'countries')}, {where}"


def delivery_words(terms: StandingTerms) -> str:
    if terms.delivery is None:
        return "nothing is charged"
    zones = terms.delivery.zones
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
    Subject.CONDITIONS: "Terms",
    Subject.CONTACT: "Contact and statement",
}


def words_of_terms(subject: str, terms: StandingTerms) -> str:
    """What the fee, the tax or the delivery is, in a few words."""
    return WORDS[Subject(subject)](terms)


def words_of_choice(business: Business, subject: str, own: Document | None, defaults: Defaults) -> str:
    """Which look, terms or contact a link has that chose ``own``, or the default's where that is None."""
    if subject == Subject.LOOK:
        kits = Kit.objects.filter(business=business)
        kit = (kits.filter(is_default=True) if own is None else kits.filter(id=own["id"])).first()
        return kit.name if kit else "Cravik's default"
    if subject == Subject.CONDITIONS:
        names = {pk: name for name, pk in defaults.terms_ids.items()}
        chosen = defaults.documents[subject] if own is None else defaults.terms_named(names.get(own["id"]))
        return f"{chosen['name']}, version {chosen['number']}" if chosen else "buyers agree to nothing"
    return "{support_email}, {statement_text}".format(**contact_of(business, own))


def default_words(business: Business, subject: str, defaults: Defaults) -> str:
    """What Setup says on a subject, in a few words."""
    if subject in WORDS:
        return words_of_terms(subject, read_standing(defaults.documents[subject]))
    return words_of_choice(business, subject, None, defaults)
