"""What was decided, said in a few words."""

from __future__ import annotations

from collections.abc import Mapping

from cravik.core.delivery import ANYWHERE
from cravik.core.documents.standing import read_standing
from cravik.core.money_text import in_figures
from cravik.core.standing import StandingTerms
from cravik.core.wording import counted, country_words, listed
from cravik.setup.contact import contact_of
from cravik.setup.defaults import Defaults, Document, Subject
from cravik.setup.models import Business, Kit

_NAMED_SINGLY = 3


def fee_words(terms: StandingTerms) -> str:
    if terms.fee is None:
        return "nothing"
    fixed = f" and {in_figures(terms.fee.fixed)}" if terms.fee.fixed else ""
    return f"{terms.fee.percent.text} %{fixed} of each payment"


def tax_words(terms: StandingTerms) -> str:
    if terms.tax is None or not terms.tax.rates:
        return "no tax"
    rates = terms.tax.rates
    where = "held in prices" if terms.tax.prices_include_tax else "added to prices"
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


def words_in_link(business: Business, subject: str, own: Mapping[str, Document], defaults: Defaults) -> str:
    """What a link whose own documents are ``own`` has of a subject, in a few words."""
    if subject == Subject.LOOK:
        kits = {kit.pk: kit for kit in Kit.objects.filter(business=business)}
        default = next((kit for kit in kits.values() if kit.is_default), None)
        chosen = own[subject]["id"] if subject in own else None
        kit = None if chosen == 0 else kits.get(chosen, default)
        return kit.name if kit else "as Cravik comes"
    if subject == Subject.CONDITIONS:
        held = defaults.held(subject, own)
        return f"{held['name']}, version {held['number']}" if held else "buyers agree to nothing"
    if subject == Subject.CONTACT:
        return "{support_email}, {statement_text}".format(**contact_of(business, own.get(subject)))
    return WORDS[Subject(subject)](read_standing(defaults.held(subject, own)))
