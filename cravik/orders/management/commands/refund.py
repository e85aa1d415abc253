"""Giving money of an order back, by hand."""

from __future__ import annotations

from typing import Any

from django.core.management.base import CommandError, CommandParser
from django.utils import timezone

from cravik.core.errors import AmountRefused
from cravik.core.text.amount_text import parse_amount
from cravik.core.text.faults import fault_words
from cravik.core.text.money_text import format_money_clearly
from cravik.orders.models import Order
from cravik.orders.refunding import NoSuchCharge, RefundWish, WhichCharge, charge_to_refund, refund_order
from cravik.payments.models import Refund
from cravik.payments.refunding import KeyOfAnother, LessLeft, left_to_refund
from cravik.payments.ways import paid_with_words, present_ways
from cravik.people.actors import command
from cravik.people.commands import business_called
from cravik.upkeep.commands import DataCommand

REFUSED, INVALID, NOT_KNOWN = 1, 2, 3
_LONGEST_KEY = 36


class Command(DataCommand):
    help = (
        "Give AMOUNT of ORDER back to the card that paid. Exit status 0 once it is given back; 1 where it cannot be; 2"
        " for an order, amount or key that is none, or without --yes; 3 where the processor has not said: it is asked"
        " again by itself, and the same command says what became of it. The same key gives nothing back twice."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("order", type=int, metavar="ORDER", help="its number")
        parser.add_argument("amount", metavar="AMOUNT", help="such as 12.50, in the currency that was paid")
        parser.add_argument("--key", required=True, help="a word of your own for this refund")
        parser.add_argument("--charge", default="", metavar="REFERENCE", help="which charge, where there are several")
        parser.add_argument("--rehearsal", action="store_true", help="ORDER is the number of a rehearsal")
        parser.add_argument("--business", default="", help="its name; not needed where there is only one")
        parser.add_argument("--yes", action="store_true", help="do it; without, it is only said what would be done")

    def handle(self, *args: Any, **options: Any) -> None:
        business, key = business_called(options["business"]), options["key"].strip()
        orders = Order.objects.of(business).filter(number=options["order"], rehearsal=options["rehearsal"])
        order = orders.first()
        if order is None:
            raise CommandError(f"{business.name} has no order {options['order']}.", returncode=INVALID)
        if not 0 < len(key) <= _LONGEST_KEY:
            raise CommandError(f"A key has 1 to {_LONGEST_KEY} signs.", returncode=INVALID)
        try:
            amount = parse_amount(options["amount"], order.currency)
            charge = charge_to_refund(order, options["charge"])
            if not options["yes"]:
                left = format_money_clearly(left_to_refund(charge))
                raise CommandError(
                    f"Nothing was done. With --yes, {format_money_clearly(amount)} of the {left} that are left of"
                    f" {order} go back to the {paid_with_words(charge)}.",
                    returncode=INVALID,
                )
            refund = refund_order(
                order,
                RefundWish(amount),
                f"command-{business.pk}-{key}",
                present_ways(),
                timezone.now,
                by=command("refund"),
                charge_reference=options["charge"],
            )
        except AmountRefused as refused:
            raise CommandError(fault_words(refused.faults[0]), returncode=INVALID) from None
        except NoSuchCharge:
            raise CommandError(f"Nothing was charged for {order} that fits.", returncode=INVALID) from None
        except WhichCharge as several:
            named = ", ".join(each.gateway_reference for each in several.charges)
            raise CommandError(f"{several} --charge takes {named}.", returncode=INVALID) from None
        except KeyOfAnother:
            raise CommandError(f"The key “{key}” stands for another refund.", returncode=INVALID) from None
        except LessLeft as refused:
            left = format_money_clearly(refused.left)
            raise CommandError(f"Only {left} of it is left to give back.", returncode=REFUSED) from None
        self._say(order, refund)

    def _say(self, order: Order, refund: Refund) -> None:
        amount = format_money_clearly(refund.amount)
        if refund.state == Refund.State.DONE:
            self.stdout.write(f"{amount} of {order} given back, as {refund.gateway_reference}.")
        elif refund.state == Refund.State.PENDING:
            words = f"The processor has not said yet. {amount} of {order} stay set aside, and it is asked again."
            raise CommandError(words, returncode=NOT_KNOWN)
        else:
            raise CommandError(f"The processor gave nothing back: {refund.reason}.", returncode=REFUSED)
