"""The messages to a buyer after they paid, or tried to."""

from __future__ import annotations

from cravik.setup.messages.filling import Block, WebAddress
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.messages.placeholders import (
    AMOUNT,
    BUSINESS,
    BUYER,
    CONTACT,
    DOCUMENTS,
    GOODS,
    ORDER,
    RECEIPT_ADDRESS,
    REFERENCE,
    SENT_TO,
    THING,
    Placeholder,
)

FILES_ARRIVED = MessageKind(
    "files_arrived",
    "Your file is there",
    "a buyer who paid before it was",
    "when you add the first file of something that was bought already",
    (
        BUYER,
        BUSINESS,
        THING,
        GOODS,
        ORDER,
        RECEIPT_ADDRESS,
        CONTACT,
    ),
    Words(
        "{thing}: your file is there",
        "It is there, {buyer}",
        "You bought {thing} from {business} before its file was ready. It is now.\n\n"
        "{goods}\n\n"
        "{order}. [The receipt as a page]({receipt_address})\n\n"
        "Questions? Answer this message, or write to {contact}.",
    ),
)
REFUND = MessageKind(
    "refund",
    "Refund",
    "the buyer",
    "when you have given money back",
    (
        BUYER,
        BUSINESS,
        THING,
        Placeholder("amount", "what was given back", "€12.00"),
        Placeholder("paid_with", "where it went", "card ending in 0019"),
        Placeholder(
            "note",
            "what you wrote for the buyer; nothing where you wrote nothing",
            Block("The smaller kite is in the post.", "<p>The smaller kite is in the post.</p>"),
        ),
        DOCUMENTS,
        ORDER,
        REFERENCE,
        RECEIPT_ADDRESS,
        CONTACT,
    ),
    Words(
        "{business} refunded {amount}",
        "{amount} refunded",
        "{business} refunded {amount} of what you paid for {thing}. It goes back to your {paid_with} and shows there as"
        " soon as your bank has booked it.\n\n"
        "{note}\n\n"
        "{documents}\n\n"
        "{order}, reference {reference}.\n[The receipt as a page]({receipt_address})\n\n"
        "Questions? Answer this message, or write to {contact}.",
    ),
)
ON_ITS_WAY = MessageKind(
    "on_its_way",
    "On its way",
    "the buyer",
    "when you mark an order as sent",
    (
        BUYER,
        BUSINESS,
        THING,
        Placeholder(
            "parcel",
            "who carries it and how it is followed; nothing where you wrote neither",
            Block(
                "Carried by Dune Post\nTracking number: DP 2210 44",
                "<p>Carried by Dune Post<br>Tracking number: DP 2210 44</p>",
            ),
        ),
        SENT_TO,
        ORDER,
        REFERENCE,
        RECEIPT_ADDRESS,
        CONTACT,
    ),
    Words(
        "{thing} is on its way",
        "On its way to you",
        "Hello {buyer},\n\n{business} has sent {thing}.\n\n{parcel}\n\n{sent_to}\n\n"
        "{order}, reference {reference}.\n[The receipt as a page]({receipt_address})\n\n"
        "Questions? Answer this message, or write to {contact}.",
    ),
)
NOT_PAID = MessageKind(
    "not_paid",
    "Payment didn't go through",
    "whoever pressed Pay",
    "once, when you write to somebody whose payment didn't go through",
    (
        BUYER,
        BUSINESS,
        THING,
        Placeholder(
            "link_address", "the page to pay on", WebAddress("https://pay.windlestraw.example/for/delta-kite/")
        ),
        CONTACT,
    ),
    Words(
        "Your payment for {thing} didn't go through",
        "Your payment didn't go through",
        "Hello {buyer},\n\nyou wanted to pay {business} for {thing}, and it didn't go through. Nothing was charged.\n\n"
        "If you still want it, [try again]({link_address}).\n\n"
        "This is the only message about it. Questions? Answer it, or write to {contact}.",
    ),
)
PURCHASES = MessageKind(
    "purchases",
    "Your purchases",
    "a buyer who asked for it",
    "when a buyer asks to see what they bought from you",
    (
        BUYER,
        BUSINESS,
        Placeholder(
            "purchases_address",
            "what opens the buyer's purchases, once",
            WebAddress("https://pay.windlestraw.example/purchases/1/open/x7/"),
        ),
        CONTACT,
    ),
    Words(
        "Your purchases from {business}",
        "Your purchases",
        "Hello {buyer},\n\nhere is what you bought from {business}, with receipts and downloads:\n\n"
        "[Open your purchases]({purchases_address})\n\n"
        "The link works once, within a day.\n\n"
        "You didn't ask for it? Then do nothing. Questions? Write to {contact}.",
    ),
)
REFUND_ASKED = MessageKind(
    "refund_asked",
    "A buyer asks for a refund",
    "you",
    "when a buyer asks for their money back",
    (
        BUYER,
        Placeholder("buyer_email", "the buyer's address", "maren@dunes.example"),
        BUSINESS,
        THING,
        AMOUNT,
        Placeholder("wish", "why, in the buyer's words", "It arrived with a bent spar."),
        ORDER,
        Placeholder("order_address", "the order in Cravik", WebAddress("https://pay.windlestraw.example/orders/42/")),
    ),
    Words(
        "{buyer} asks for a refund of {thing}",
        "A refund is asked for",
        "{buyer} ({buyer_email}) asks for a refund of {thing}, {amount}:\n\n{wish}\n\n"
        "Nothing has been refunded. {order}: {order_address}\n\nAnswer this message to write to them.",
    ),
)
_THINGS = Placeholder("things", "what the buyer withdrew from buying", "Delta kite")
_SAID_AT = Placeholder("said_at", "when they said so", "1 Dec 2026, 09:14 (Europe/Dublin)")
_PAY_BACK_BY = Placeholder("pay_back_by", "the last day to pay the money back", "15 Dec 2026")
WITHDRAWAL_RECEIVED = MessageKind(
    "withdrawal_received",
    "Withdrawal received",
    "a buyer who withdrew",
    "when a buyer withdraws from a purchase",
    (BUYER, BUSINESS, THING, _THINGS, _SAID_AT, _PAY_BACK_BY, ORDER, REFERENCE, RECEIPT_ADDRESS, CONTACT),
    Words(
        "You withdrew from buying {things}",
        "Your withdrawal has been received",
        "Hello {buyer},\n\n{business} received this on {said_at}:\n\n"
        "I withdraw from buying {things}. {order}, reference {reference}.\n\n"
        "What you paid for it will be on its way back to you by {pay_back_by}. If you already have it, send it back"
        " within 14 days; {business} may wait until then.\n\n"
        "[The receipt as a page]({receipt_address})\n\n"
        "Questions? Answer this message, or write to {contact}.",
    ),
)
WITHDRAWN = MessageKind(
    "withdrawn",
    "A buyer withdrew",
    "you",
    "when a buyer withdraws from a purchase",
    (
        BUYER,
        Placeholder("buyer_email", "the buyer's address", "maren@dunes.example"),
        BUSINESS,
        _THINGS,
        _SAID_AT,
        _PAY_BACK_BY,
        ORDER,
        Placeholder("order_address", "the order in Cravik", WebAddress("https://pay.windlestraw.example/orders/42/")),
    ),
    Words(
        "{buyer} withdrew from buying {things}",
        "A buyer withdrew",
        "{buyer} ({buyer_email}) withdrew from buying {things} on {said_at}. They were told that you received it.\n\n"
        "Pay back what they paid for it, with the usual delivery, by {pay_back_by}; you may wait until it is back with"
        " you. {order}: {order_address}\n\nAnswer this message to write to them.",
    ),
)
