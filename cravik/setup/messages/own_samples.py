"""What a message's placeholders stand for in its preview: the business's own name, goods and address."""

from __future__ import annotations

from cravik.core.pricing.money import Money
from cravik.core.pricing.percent import Percent
from cravik.core.text.money_text import format_money, format_money_clearly
from cravik.people.models import Business
from cravik.setup.messages.filling import Value, Values
from cravik.setup.messages.message import MessageKind
from cravik.setup.messages.placeholders import rows_block
from cravik.setup.own_goods import good_of

#: What the processor takes of the sample, about as much as is usual.
_FEE = Percent.parse("2")


def samples_for(business: Business, kind: MessageKind) -> Values:
    """The samples of the kind's placeholders, with what is known of the business in their place."""
    good = good_of(business)
    paid, fee = good.price, Money(_FEE.of(good.price.minor), good.price.currency)
    own: dict[str, Value] = {
        **dict.fromkeys(("thing", "link", "item"), good.name),
        **dict.fromkeys(("amount", "amount_in_words"), format_money_clearly(paid)),
        "business": business.name,
        "contact": business.support_email,
        "statement": business.statement_text,
        "slip": rows_block((good.name, format_money(paid)), ("Paid", format_money(paid))),
        "kept": rows_block(("The processor's fee", format_money(-fee)), ("Left for you", format_money(paid - fee))),
    }
    return {name: own.get(name, sample) for name, sample in kind.samples.items()}
