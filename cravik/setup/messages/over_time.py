"""The messages about what is paid over time: what was taken, what comes, and what could not be taken."""

from __future__ import annotations

from cravik.setup.messages.filling import Block, WebAddress
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.messages.placeholders import (
    BUSINESS,
    BUYER,
    CONTACT,
    DOCUMENTS,
    ORDER,
    RECEIPT_ADDRESS,
    REFERENCE,
    THING,
    Placeholder,
)

_SUM = Placeholder("amount", "the sum", "€12.00")
_ON = Placeholder("on", "the day", "1 Apr 2027")
_HOW = Placeholder(
    "how",
    "how it is paid, and what to do about it",
    Block("It is taken from your card.", "<p>It is taken from your card.</p>"),
)
PAYMENTS_ADDRESS = Placeholder(
    "payments_address",
    "the buyer's page of payments",
    WebAddress("https://pay.windlestraw.example/paid/7K2M9QX4T1ZB/payments/"),
)
_ORDER_ADDRESS = Placeholder(
    "order_address", "the order in Cravik", WebAddress("https://pay.windlestraw.example/running/42/")
)
_OF_BUYER = (BUYER, BUSINESS, THING, ORDER, RECEIPT_ADDRESS, PAYMENTS_ADDRESS, CONTACT)
_FOOT = "[Your payments]({payments_address})\n\nQuestions? Answer this message, or write to {contact}."

PAYMENT_TAKEN = MessageKind(
    "payment_taken",
    "Receipt for a later payment",
    "the buyer",
    "when a later payment was taken or made",
    (
        *_OF_BUYER,
        _SUM,
        _ON,
        Placeholder("paid_with", "what it was paid with", "card ending in 0019"),
        Placeholder(
            "next",
            "what comes next",
            Block("Next: €12.00 on 1 May 2027.", "<p>Next: €12.00 on 1 May 2027.</p>"),
        ),
        DOCUMENTS,
        REFERENCE,
    ),
    Words(
        "Your receipt from {business}: {amount} for {thing}",
        "{amount} paid",
        "Hello {buyer},\n\n{business} received {amount} for {thing} on {on}, paid with your {paid_with}.\n\n"
        "{next}\n\n{documents}\n\n{order}, reference {reference}.\n\n" + _FOOT,
    ),
)
PAYMENT_COMES = MessageKind(
    "payment_comes",
    "A payment comes",
    "the buyer",
    "some days before a trial ends or a rest is due, and before you charge a sum of its own",
    (*_OF_BUYER, _SUM, _ON, _HOW),
    Words(
        "{amount} for {thing} on {on}",
        "{amount} on {on}",
        "Hello {buyer},\n\n{amount} for {thing} is due on {on}.\n\n{how}\n\n{order}.\n\n" + _FOOT,
    ),
)
PAYMENT_FAILED = MessageKind(
    "payment_failed",
    "A payment couldn't be taken",
    "the buyer",
    "each time a later payment is declined",
    (
        *_OF_BUYER,
        _SUM,
        Placeholder("why", "why it was declined", "There is not enough money on this card."),
        _HOW,
    ),
    Words(
        "{amount} for {thing} couldn't be taken",
        "{amount} couldn't be taken",
        "Hello {buyer},\n\n{business} couldn't take {amount} for {thing}. {why}\n\n{how}\n\n"
        "[Pay with another card]({payments_address})\n\n{order}.\n\nQuestions? Answer this message, or write to"
        " {contact}.",
    ),
)
PAYMENT_FAILED_NOTICE = MessageKind(
    "payment_failed_notice",
    "A buyer's payment couldn't be taken",
    "you",
    "each time a later payment is declined",
    (
        BUYER,
        Placeholder("buyer_email", "the buyer's address", "maren@dunes.example"),
        BUSINESS,
        THING,
        _SUM,
        Placeholder("why", "what became of it", "declined: the card has expired"),
        Placeholder(
            "how",
            "what happens next",
            Block("It is tried again on 3 Apr 2027.", "<p>It is tried again on 3 Apr 2027.</p>"),
        ),
        ORDER,
        _ORDER_ADDRESS,
    ),
    Words(
        "{buyer}'s {amount} couldn't be taken",
        "{amount} couldn't be taken",
        "{buyer} was to pay {amount} for {thing}: {why}.\n\n{how}\n\n{order}: {order_address}\n\n"
        "The buyer was told too. Their address is {buyer_email}; an answer to this message goes there.",
    ),
)
PAYMENT_CONFIRM = MessageKind(
    "payment_confirm",
    "The bank asks to confirm",
    "the buyer",
    "when the card's bank wants its customer to confirm a later payment",
    (*_OF_BUYER, _SUM, Placeholder("until", "how long there is time", "4 Apr 2027")),
    Words(
        "Please confirm {amount} for {thing}",
        "Your bank asks whether it is you",
        "Hello {buyer},\n\n{amount} for {thing} is due, and your bank wants you to confirm it first. There is time"
        " until {until}.\n\n[Confirm it]({payments_address})\n\n{order}. Questions? Answer this message, or write to"
        " {contact}.",
    ),
)
PAYMENTS_WAIT = MessageKind(
    "payments_wait",
    "Payments wait for the buyer",
    "the buyer",
    "when several payments are overdue at once: one is taken, the others only if the buyer says so",
    (*_OF_BUYER, _SUM, Placeholder("count", "how many wait", "2 payments")),
    Words(
        "{count} for {thing} wait for you",
        "{count} were not taken",
        "Hello {buyer},\n\n{count} for {thing} are overdue, {amount} in all. We don't take several at once without"
        " asking you: pay them when it suits you.\n\n[Pay now]({payments_address})\n\n{order}. Questions? Answer this"
        " message, or write to {contact}.",
    ),
)
PLAN_CHANGED = MessageKind(
    "plan_changed",
    "Later payments changed",
    "the buyer",
    "when payments are skipped, moved, lowered or waived, and when what runs is paused, goes on or ends",
    (
        *_OF_BUYER,
        Placeholder("what", "what changed", "your payments are paused"),
        Placeholder(
            "details",
            "what that means",
            Block("Nothing is taken until you resume.", "<p>Nothing is taken until you resume.</p>"),
        ),
    ),
    Words(
        "{thing}: {what}",
        "{thing}: {what}",
        "Hello {buyer},\n\n{details}\n\n{order} from {business}.\n\n" + _FOOT,
    ),
)
PLAN_CHANGED_NOTICE = MessageKind(
    "plan_changed_notice",
    "A buyer changed their payments",
    "you",
    "when a buyer stops, pauses, resumes or skips, or says no to a sum, and when a plan is over unpaid",
    (
        BUYER,
        Placeholder("buyer_email", "the buyer's address", "maren@dunes.example"),
        BUSINESS,
        THING,
        Placeholder("what", "what they did", "stopped their payments"),
        Placeholder("details", "what that means", Block("It ends on 31 Mar 2027.", "<p>It ends on 31 Mar 2027.</p>")),
        ORDER,
        _ORDER_ADDRESS,
    ),
    Words(
        "{buyer}: {what}",
        "{buyer}: {what}",
        "About {thing}.\n\n{details}\n\n{order}: {order_address}\n\n"
        "The buyer's address is {buyer_email}; an answer to this message goes there.",
    ),
)
OVER_TIME = (
    PAYMENT_TAKEN,
    PAYMENT_COMES,
    PAYMENT_FAILED,
    PAYMENT_FAILED_NOTICE,
    PAYMENT_CONFIRM,
    PAYMENTS_WAIT,
    PLAN_CHANGED,
    PLAN_CHANGED_NOTICE,
)
