"""Every message that there is: to whom, when, its placeholders with sample values, and its original wording."""

from __future__ import annotations

from cravik.setup.messages.after_paying import (
    FILES_ARRIVED,
    NOT_PAID,
    ON_ITS_WAY,
    PURCHASES,
    REFUND,
    REFUND_ASKED,
    WITHDRAWAL_RECEIVED,
    WITHDRAWN,
)
from cravik.setup.messages.filling import Block, WebAddress
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.messages.over_time import OVER_TIME
from cravik.setup.messages.placeholders import (
    AGREED,
    AMOUNT,
    ANSWERS,
    BUSINESS,
    BUYER,
    CARD,
    CONTACT,
    DOCUMENTS,
    GOODS,
    IN_WORDS,
    ORDER,
    PAID_ON,
    RECEIPT_ADDRESS,
    REFERENCE,
    SENT_TO,
    SLIP,
    TERMS,
    THING,
    Placeholder,
    rows_block,
)

RECEIPT = MessageKind(
    "receipt",
    "Receipt",
    "the buyer",
    "as soon as a payment is approved",
    (
        BUYER,
        BUSINESS,
        THING,
        AMOUNT,
        IN_WORDS,
        SLIP,
        PAID_ON,
        CARD,
        Placeholder("statement", "what appears on the buyer's statement", "WINDLESTRAW KITES"),
        ORDER,
        REFERENCE,
        RECEIPT_ADDRESS,
        CONTACT,
        Placeholder(
            "what_follows",
            "what the link says after paying, and the page to go on to; at the end where your wording leaves it out",
            Block(
                "See you soon, Maren.\n\nContinue: https://windlestraw.example/thanks",
                '<p>See you soon, Maren.</p><p><a href="https://windlestraw.example/thanks">Continue to'
                " windlestraw.example</a></p>",
            ),
        ),
        ANSWERS,
        GOODS,
        SENT_TO,
        TERMS,
        AGREED,
        DOCUMENTS,
        Placeholder(
            "seller",
            "your name, address and tax number; at the end where your wording leaves it out",
            Block(
                "Windlestraw Kites\n3 Dune Road\nMarramport\nTax number IE1234567FA",
                "<p>Windlestraw Kites<br>3 Dune Road<br>Marramport<br>Tax number IE1234567FA</p>",
            ),
        ),
    ),
    Words(
        "Your receipt from {business}: {amount} for {thing}",
        "Thank you, {buyer}",
        "{business} received your payment.\n\n"
        "{what_follows}\n\n"
        "{goods}\n\n"
        "{slip}\n\n"
        "Paid on {paid_on} with the card ending in {card_ending}."
        " Your statement will say {statement}.\n\n"
        "{answers}\n\n"
        "{sent_to}\n\n"
        "{agreed}\n\n"
        "{terms}\n\n"
        "{documents}\n\n"
        "{order}, reference {reference}.\n[This receipt as a page]({receipt_address})\n\n"
        "Questions? Answer this message, or write to {contact}.\n\n"
        "{seller}",
    ),
    when_free=Words(
        "From {business}: {thing}",
        "Thank you, {buyer}",
        "This is yours, and there is nothing to pay.\n\n"
        "{what_follows}\n\n"
        "{goods}\n\n"
        "{slip}\n\n"
        "{answers}\n\n"
        "{sent_to}\n\n"
        "{agreed}\n\n"
        "{terms}\n\n"
        "{order} of {paid_on}, reference {reference}.\n[This as a page]({receipt_address})\n\n"
        "Questions? Answer this message, or write to {contact}.\n\n"
        "{seller}",
    ),
)
SALE_NOTICE = MessageKind(
    "sale_notice",
    "You were paid",
    "you",
    "as soon as a payment is approved",
    (
        BUYER,
        Placeholder("buyer_email", "the buyer's address", "maren@dunes.example"),
        BUSINESS,
        THING,
        AMOUNT,
        IN_WORDS,
        Placeholder("link", "the link's name", "Delta kite, 1.8 m"),
        SLIP,
        Placeholder(
            "kept",
            "fee, tax and postage, and what is left for you",
            rows_block(
                ("The processor's fee", "−€1.05"),
                ("Tax you owe", "−€9.91"),
                ("For delivery", "−€4.07"),
                ("Left for you", "€37.97"),
            ),
        ),
        PAID_ON,
        ORDER,
        REFERENCE,
        Placeholder("order_address", "the order in Cravik", WebAddress("https://pay.windlestraw.example/orders/42/")),
        ANSWERS,
        SENT_TO,
    ),
    Words(
        "{buyer} paid {amount} for {thing}",
        "{buyer} paid {amount}",
        "For {thing}, on your link “{link}”.\n\n"
        "{slip}\n\n"
        "{kept}\n\n"
        "{answers}\n\n"
        "{sent_to}\n\n"
        "{order}: {order_address}\n\n"
        "The buyer's address is {buyer_email}; an answer to this message goes there.",
    ),
    when_free=Words(
        "{buyer} took {thing}, for free",
        "{buyer} took {thing}",
        "There was nothing to pay, on your link “{link}”.\n\n"
        "{slip}\n\n"
        "{answers}\n\n"
        "{sent_to}\n\n"
        "{order}: {order_address}\n\n"
        "The buyer's address is {buyer_email}; an answer to this message goes there.",
    ),
)
STOCK_LOW = MessageKind(
    "stock_low",
    "Stock runs low",
    "you",
    "once, when an item comes down to the level that you named",
    (
        Placeholder("item", "the item, with its options", "Delta kite, 1.2 m, red"),
        Placeholder("count", "how many are left", "2"),
        Placeholder("level", "the level at which you wanted to be told", "3"),
        Placeholder(
            "what_then",
            "what happens when none is left",
            "When none is left, its links say that it is sold out.",
        ),
        Placeholder(
            "stock_address",
            "where the count is changed",
            WebAddress("https://pay.windlestraw.example/catalogue/4/stock/"),
        ),
        BUSINESS,
    ),
    Words(
        "{item}: {count} left",
        "{item}: {count} left",
        "You asked to be told at {level}. You'll be told once, until there is more again.\n\n"
        "{what_then}\n\n"
        "[Change the count]({stock_address})",
    ),
)
CONFIRM_WAITING = MessageKind(
    "confirm_waiting",
    "Was it you?",
    "whoever left an address",
    "when somebody asks to hear when a link can be bought",
    (
        BUSINESS,
        Placeholder("thing", "what they wait for", "Delta kite"),
        Placeholder(
            "confirm_address", "where they say that it was they", WebAddress("https://pay.windlestraw.example/hear/k7/")
        ),
        CONTACT,
    ),
    Words(
        "Do you want to hear when {thing} can be bought?",
        "Was it you?",
        "Somebody left this address to hear when {thing} can be bought from {business}. If it was you, say so:\n\n"
        "[Yes, tell me]({confirm_address})\n\n"
        "You then get one message about it. If it was not you, do nothing: the address is forgotten in three days."
        " Questions? Write to {contact}.",
    ),
)
CAN_BE_BOUGHT = MessageKind(
    "can_be_bought",
    "It can be bought now",
    "whoever left an address",
    "when you write to all who wait for a link",
    (
        BUSINESS,
        Placeholder("thing", "what can be bought", "Delta kite"),
        Placeholder("price", "what it costs", "€48.00"),
        Placeholder("link_address", "the link", WebAddress("https://pay.windlestraw.example/for/delta-kite/")),
        CONTACT,
    ),
    Words(
        "{thing} can be bought now",
        "{thing} can be bought now",
        "You left your address to hear when {thing} can be bought from {business}. It can be now: {price}.\n\n"
        "[Go to its page]({link_address})\n\n"
        "This is the only message about it. Questions? Answer it, or write to {contact}.",
    ),
)
_INVITED = (
    BUSINESS,
    Placeholder("thing", "what can be bought", "Delta kite"),
    Placeholder("price", "what it costs", "€48.00"),
    Placeholder("address", "the address of the spot", WebAddress("https://pay.windlestraw.example/k/3479CF/")),
    CONTACT,
)
INVITATION = MessageKind(
    "invitation",
    "A link by e-mail",
    "whoever you write to",
    "when you send a link from its Hand out page",
    _INVITED,
    Words(
        "{thing} from {business}",
        "",
        "Hello,\n\n{thing}, {price}. You can pay for it here:\n\n{address}\n\nQuestions? Write to {contact}."
        "\n\n{business}",
    ),
    parts=("subject", "body"),
)
SHORT_INVITATION = MessageKind(
    "short_invitation",
    "A link in a short message",
    "whoever you write to",
    "when you send or share a link from its Hand out page",
    _INVITED,
    Words("", "", "{thing} from {business}, {price}: {address}"),
    parts=("body",),
)
_ALL = (
    RECEIPT,
    SALE_NOTICE,
    REFUND,
    REFUND_ASKED,
    WITHDRAWAL_RECEIVED,
    WITHDRAWN,
    ON_ITS_WAY,
    NOT_PAID,
    PURCHASES,
    FILES_ARRIVED,
    *OVER_TIME,
    STOCK_LOW,
    CONFIRM_WAITING,
    CAN_BE_BOUGHT,
    INVITATION,
    SHORT_INVITATION,
)
KINDS: dict[str, MessageKind] = {each.kind: each for each in _ALL}
