"""What may stand in a message in braces, with sample values: those that several messages have."""

from __future__ import annotations

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


def rows_block(*rows: tuple[str, str]) -> Block:
    wide = max(len(words) for words, _ in rows)
    text = "\n".join(f"  {words.ljust(wide)}  {amount}" for words, amount in rows)
    cells = "".join(f'<tr><th scope="row">{words}</th><td>{amount}</td></tr>' for words, amount in rows)
    return Block(text, f"<table>{cells}</table>")


ROWS = rows_block(("Delta kite", "€48.00"), ("Delivery", "€5.00"), ("Paid", "€53.00"))
BUYER = Placeholder("buyer", "the buyer's name", "Maren Saltmarsh")
BUSINESS = Placeholder("business", "your business's name", "Windlestraw Kites")
THING = Placeholder("thing", "what was bought", "Delta kite, 1.8 m")
AMOUNT = Placeholder("amount", "what was paid", "€53.00")
#: Wordings of before may have it. It says what ``amount`` says.
IN_WORDS = Placeholder("amount_in_words", "what was paid", "€53.00", is_former=True)
ORDER = Placeholder("order", "the order by its number", "Order 1042")
REFERENCE = Placeholder("reference", "the buyer's reference", "7K2M9QX4T1ZB")
SLIP = Placeholder("slip", "what was paid, line by line", ROWS)
SENT_TO = Placeholder(
    "sent_to",
    "where it is sent; nothing where it is not",
    Block(
        "It is sent to\n  Maren Saltmarsh\n  2 Strand Lane\n  Marramport\n  Ireland",
        "<p>It is sent to<br>Maren Saltmarsh<br>2 Strand Lane<br>Marramport<br>Ireland</p>",
    ),
)
TERMS = Placeholder(
    "terms",
    "the terms that the buyer agreed to; nothing where there are none",
    Block(
        "You agreed to the terms of sale: https://pay.windlestraw.example/terms/x7/",
        '<p>You agreed to the <a href="https://pay.windlestraw.example/terms/x7/">terms of sale</a>.</p>',
    ),
)
AGREED = Placeholder(
    "agreed",
    "what the buyer agreed to pay later, and where that is changed; nothing where all is paid; at the end of a receipt"
    " where your wording leaves it out",
    Block(
        "You agreed to this: €12.00 today, then €12.00 on the 1st of each month until it is ended.",
        "<p>You agreed to this: €12.00 today, then €12.00 on the 1st of each month until it is ended.</p>",
    ),
)
DOCUMENTS = Placeholder(
    "documents",
    "the receipt, invoice or credit note that is enclosed; at the end of a receipt where your wording leaves it out",
    Block(
        "Enclosed as PDF:\n  Receipt R-2026-0042, €53.00: https://pay.windlestraw.example/paid/7K2M9QX4T1ZB/document/42/",
        '<p>Enclosed as PDF:</p><ul><li><a href="https://pay.windlestraw.example/paid/7K2M9QX4T1ZB/document/42/">Receipt'
        " R-2026-0042, €53.00</a></li></ul>",
    ),
)
GOODS = Placeholder(
    "goods",
    "files to download and the access code; nothing where there are none",
    Block(
        "Your access code: WIND-4K7Q",
        "<p>Your access code: <strong>WIND-4K7Q</strong></p>",
    ),
)
ANSWERS = Placeholder(
    "answers",
    "what the buyer answered; at the end where your wording leaves it out",
    rows_block(("Name on the tail", "Maren"), ("How many guests", "3")),
)
PAID_ON = Placeholder("paid_on", "the day of the payment", "23 Nov 2026")
CARD = Placeholder("card_ending", "the last four digits of the card", "0019")

CONTACT = Placeholder("contact", "where buyers reach you", "hello@windlestraw.example")
RECEIPT_ADDRESS = Placeholder(
    "receipt_address", "the receipt as a page", WebAddress("https://pay.windlestraw.example/paid/7K2M9QX4T1ZB/")
)
