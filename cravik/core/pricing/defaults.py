"""What holds for every offer of a seller unless the offer says otherwise: fee, tax and delivery.

>>> defaults = OfferDefaults("EUR", fee=Fee(Percent.parse("1.5"), Money(25, "EUR")))
>>> defaults.fee_in("GBP")
Fee(percent=Percent(ten_thousandths=15000), fixed=Money(minor=0, currency='GBP'), buyer_may_cover=False)
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from cravik.core.pricing.delivery import Delivery
from cravik.core.pricing.fees import Fee
from cravik.core.pricing.money import Money
from cravik.core.pricing.offer import Offer
from cravik.core.pricing.percent import Percent
from cravik.core.pricing.tax import TaxRules

#: What a payment costs where nobody has said anything else.
USUAL_PERCENT = Percent(15_000)
USUAL_FIXED_MINOR = 25


@dataclass(frozen=True, slots=True)
class OfferDefaults:
    """What it is, its amounts in ``currency``; None where nothing is charged."""

    currency: str
    fee: Fee | None = None
    tax: TaxRules | None = None
    delivery: Delivery | None = None

    def fee_in(self, currency: str) -> Fee | None:
        """The fee on payments in ``currency``: the fixed part is known in their own alone."""
        if self.fee is None or currency == self.currency:
            return self.fee
        return replace(self.fee, fixed=Money(0, currency))

    def delivery_in(self, currency: str) -> Delivery | None:
        """The zones for an offer in ``currency``: none, where their amounts are in another."""
        return self.delivery if currency == self.currency else None


def with_fee(offer: Offer, defaults: OfferDefaults) -> Offer:
    """The offer with the fee that the defaults name."""
    return replace(offer, fee=defaults.fee_in(offer.currency))


def with_tax(offer: Offer, defaults: OfferDefaults) -> Offer:
    """The offer taxed as the defaults say."""
    return replace(offer, tax=defaults.tax)


def with_delivery(offer: Offer, defaults: OfferDefaults) -> Offer:
    """The offer delivered as the defaults say; nothing is charged where nothing of it is sent."""
    sent = any(line.ships for line in offer.lines)
    return replace(offer, delivery=defaults.delivery_in(offer.currency) if sent else None)


def usual_defaults(currency: str) -> OfferDefaults:
    """The defaults of a seller who has decided nothing yet."""
    return OfferDefaults(currency, fee=Fee(USUAL_PERCENT, Money(USUAL_FIXED_MINOR, currency)))
