"""Every message that there is: to whom, when, its placeholders with sample values, and its original wording."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from cravik.setup.messages.filling import Block, Value, WebAddress


@dataclass(frozen=True)
class Placeholder:
    """What stands in the place of a name in braces."""

    name: str
    meaning: str
    sample: Value
    #: Whether it is known still, and offered no more.
    is_former: bool = False

    @property
    def written(self) -> str:
        return f"{{{self.name}}}"


@dataclass(frozen=True)
class Words:
    """The wording of a message; the body is Markdown."""

    subject: str
    heading: str
    body: str


@dataclass(frozen=True)
class MessageKind:
    """A message, who gets it and when."""

    kind: str
    title: str
    to: str
    when: str
    placeholders: tuple[Placeholder, ...]
    original: Words
    #: What of the wording is used.
    parts: tuple[str, ...] = ("subject", "heading", "body")
    #: What it says where nothing is paid, unless the seller's wording speaks of no payment either.
    when_free: Words | None = None

    @property
    def names(self) -> frozenset[str]:
        """All that its reader may be told."""
        return frozenset(each.name for each in self.placeholders)

    @property
    def samples(self) -> Mapping[str, Value]:
        """What each stands for, for anybody."""
        return {each.name: each.sample for each in self.placeholders}


def rows_block(*rows: tuple[str, str]) -> Block:
    wide = max(len(words) for words, _ in rows)
    text = "\n".join(f"  {words.ljust(wide)}  {amount}" for words, amount in rows)
    cells = "".join(f'<tr><th scope="row">{words}</th><td>{amount}</td></tr>' for words, amount in rows)
    return Block(text, f"<table>{cells}</table>")


_ROWS = rows_block(("Delta kite", "€48.00"), ("Delivery", "€5.00"), ("Paid", "€53.00"))
_BUYER = Placeholder("buyer", "the buyer's name", "Maren Saltmarsh")
_BUSINESS = Placeholder("business", "your business's name", "Windlestraw Kites")
_THING = Placeholder("thing", "what was bought", "Delta kite, 1.8 m")
_AMOUNT = Placeholder("amount", "what was paid", "€53.00")
#: Wordings of before may have it. It says what ``amount`` says.
_IN_WORDS = Placeholder("amount_in_words", "what was paid", "€53.00", is_former=True)
_ORDER = Placeholder("order", "the order by its number", "Order 1042")
_REFERENCE = Placeholder("reference", "the buyer's reference", "7K2M9QX4T1ZB")
_SLIP = Placeholder("slip", "what was paid, line by line", _ROWS)
_SENT_TO = Placeholder(
    "sent_to",
    "where it is sent; nothing where it is not",
    Block(
        "It is sent to\n  Maren Saltmarsh\n  2 Strand Lane\n  Marramport\n  Ireland",
        "<p>It is sent to<br>Maren Saltmarsh<br>2 Strand Lane<br>Marramport<br>Ireland</p>",
    ),
)
_TERMS = Placeholder(
    "terms",
    "the terms that the buyer agreed to; nothing where there are none",
    Block(
        "You agreed to the terms of sale: https://pay.windlestraw.example/terms/x7/",
        '<p>You agreed to the <a href="https://pay.windlestraw.example/terms/x7/">terms of sale</a>.</p>',
    ),
)
_GOODS = Placeholder(
    "goods",
    "files to download and the access code; nothing where there are none",
    Block(
        "Your access code: WIND-4K7Q",
        "<p>Your access code: <strong>WIND-4K7Q</strong></p>",
    ),
)
_ANSWERS = Placeholder(
    "answers",
    "what the buyer answered; at the end where your wording leaves it out",
    rows_block(("Name on the tail", "Maren"), ("How many guests", "3")),
)
_PAID_ON = Placeholder("paid_on", "the day of the payment", "23 Nov 2026")
_CARD = Placeholder("card_ending", "the last four digits of the card", "0019")

RECEIPT = MessageKind(
    "receipt",
    "Receipt",
    "the buyer",
    "as soon as a payment is approved",
    (
        _BUYER,
        _BUSINESS,
        _THING,
        _AMOUNT,
        _IN_WORDS,
        _SLIP,
        _PAID_ON,
        _CARD,
        Placeholder("statement", "what appears on the buyer's statement", "WINDLESTRAW KITES"),
        _ORDER,
        _REFERENCE,
        Placeholder(
            "receipt_address",
            "the receipt as a page",
            WebAddress("https://pay.windlestraw.example/paid/7K2M9QX4T1ZB/"),
        ),
        Placeholder("contact", "where buyers reach you", "hello@windlestraw.example"),
        Placeholder(
            "what_follows",
            "what the link says after paying, and the page to go on to; at the end where your wording leaves it out",
            Block(
                "See you soon, Maren.\n\nContinue: https://windlestraw.example/thanks",
                '<p>See you soon, Maren.</p><p><a href="https://windlestraw.example/thanks">Continue to'
                " windlestraw.example</a></p>",
            ),
        ),
        _ANSWERS,
        _GOODS,
        _SENT_TO,
        _TERMS,
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
        "{terms}\n\n"
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
        _BUYER,
        Placeholder("buyer_email", "the buyer's address", "maren@dunes.example"),
        _BUSINESS,
        _THING,
        _AMOUNT,
        _IN_WORDS,
        Placeholder("link", "the link's name", "Delta kite, 1.8 m"),
        _SLIP,
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
        _PAID_ON,
        _ORDER,
        _REFERENCE,
        Placeholder("order_address", "the order in Cravik", WebAddress("https://pay.windlestraw.example/orders/42/")),
        _ANSWERS,
        _SENT_TO,
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
        _BUSINESS,
    ),
    Words(
        "{item}: {count} left",
        "{item}: {count} left",
        "You asked to be told at {level}. You'll be told once, until there is more again.\n\n"
        "{what_then}\n\n"
        "[Change the count]({stock_address})",
    ),
)
FILES_ARRIVED = MessageKind(
    "files_arrived",
    "Your file is there",
    "a buyer who paid before it was",
    "when you add the first file of something that was bought already",
    (
        _BUYER,
        _BUSINESS,
        _THING,
        _GOODS,
        _ORDER,
        Placeholder(
            "receipt_address",
            "the receipt as a page",
            WebAddress("https://pay.windlestraw.example/paid/7K2M9QX4T1ZB/"),
        ),
        Placeholder("contact", "where buyers reach you", "hello@windlestraw.example"),
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
CONFIRM_WAITING = MessageKind(
    "confirm_waiting",
    "Was it you?",
    "whoever left an address",
    "when somebody asks to hear when a link can be bought",
    (
        _BUSINESS,
        Placeholder("thing", "what they wait for", "Delta kite"),
        Placeholder(
            "confirm_address", "where they say that it was they", WebAddress("https://pay.windlestraw.example/hear/k7/")
        ),
        Placeholder("contact", "where buyers reach you", "hello@windlestraw.example"),
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
        _BUSINESS,
        Placeholder("thing", "what can be bought", "Delta kite"),
        Placeholder("price", "what it costs", "€48.00"),
        Placeholder("link_address", "the link", WebAddress("https://pay.windlestraw.example/for/delta-kite/")),
        Placeholder("contact", "where buyers reach you", "hello@windlestraw.example"),
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
    _BUSINESS,
    Placeholder("thing", "what can be bought", "Delta kite"),
    Placeholder("price", "what it costs", "€48.00"),
    Placeholder("address", "the address of the spot", WebAddress("https://pay.windlestraw.example/k/3479CF/")),
    Placeholder("contact", "where buyers reach you", "hello@windlestraw.example"),
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
_ALL = (RECEIPT, SALE_NOTICE, FILES_ARRIVED, STOCK_LOW, CONFIRM_WAITING, CAN_BE_BOUGHT, INVITATION, SHORT_INVITATION)
KINDS: dict[str, MessageKind] = {each.kind: each for each in _ALL}
