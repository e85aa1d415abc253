"""Reading and writing ``cravik.link/1`` documents: everything that makes a link what it is.

Reading is as strict as that of the offer inside: a key that is not known is refused, and every fault is
reported at once with its path.

>>> content = read_link({"format": "cravik.link/1", "name": "Repair", "follows": ["fee"], "offer": {
...     "format": "cravik.offer/1", "title": "Kite repair", "currency": "EUR",
...     "lines": [{"key": "repair", "name": "Kite repair", "price": {"kind": "fixed", "amount": "24"}}]}})
>>> content.follows, write_link(content)["offer"]["lines"][0]["price"]
(('fee',), {'kind': 'fixed', 'amount': '24.00'})
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Annotated, Any, Literal, Self

from pydantic import AfterValidator, Field, PlainValidator, StringConstraints, model_validator
from pydantic.json_schema import WithJsonSchema

from cravik.core.documents.data import LinkData, put
from cravik.core.documents.lines import FixedPriceDocument, PriceDocument, check_adds, check_most
from cravik.core.documents.offer import OfferDocument, write_offer
from cravik.core.documents.parts import (
    MAX_LINES,
    DocumentPart,
    Instant,
    Name,
    Slug,
    all_wrong,
    misfit,
    no_two,
    path,
    read_as,
    wrong,
)
from cravik.core.documents.questions import QuestionDocument
from cravik.core.documents.whole_order import UnitPriceCodeDocument
from cravik.core.documents.writing import written
from cravik.core.errors import Fault
from cravik.core.link import asks, content, limits, steps, withdrawal
from cravik.core.link.content import AFTER_PLACEHOLDERS, BUTTON_PLACEHOLDERS, LinkContent
from cravik.core.link.onward import is_web_address
from cravik.core.pricing.discounts import normal_code

FORMAT = "cravik.link/1"
MAX_STEPS, MAX_QUESTIONS, MAX_LABELS = 20, 50, 20
MAX_WORDS_LENGTH, MAX_MESSAGE_LENGTH = 5_000, 2_000

_Count = Annotated[int, Field(ge=1, le=1_000_000_000)]
_PLACEHOLDER = re.compile(r"\{([^{}]*)\}")


def read_link(document: object) -> LinkContent:
    """The link that ``document`` (parsed JSON) says. Raises ``InvalidDocument`` with every fault."""
    offer = document.get("offer") if isinstance(document, dict) else None
    currency = offer.get("currency") if isinstance(offer, dict) else None
    read: LinkContent = read_as(LinkDocument, document, currency).read()
    return read


def write_link(link: LinkContent) -> LinkData:
    """The document that reads back to ``link``; what has its default is left out."""
    return put(LinkData(format=FORMAT), **{**written(link), "offer": write_offer(link.offer)})


def _only(text: str, *placeholders: str) -> str:
    """``text``, if it has no other placeholder."""
    for found in _PLACEHOLDER.findall(text):
        if found not in placeholders:
            raise wrong("placeholder_unknown", placeholder=found[:20], known=placeholders)
    return text


def _web_address(value: Any) -> str:
    if not isinstance(value, str) or not is_web_address(value):
        raise wrong("web_address_malformed")
    return value


WebAddress = Annotated[
    str, PlainValidator(_web_address), WithJsonSchema({"type": "string", "pattern": "^https://", "format": "uri"})
]


#: Enough to be written to; whether it arrives is another matter.
MailAddress = Annotated[
    str, StringConstraints(pattern=r"^[!#-'*+\-/-9=?A-Z^-~.]+@[A-Za-z0-9-]+(\.[A-Za-z0-9-]+)+$", max_length=254)
]


class StepDocument(DocumentPart):
    reads = steps.Step

    line: Slug
    price: PriceDocument
    after_orders: _Count | None = None
    after_pieces: _Count | None = None
    from_: Annotated[Instant | None, Field(alias="from")] = None

    @model_validator(mode="after")
    def _is_reached_some_day(self) -> Self:
        if self.after_orders is None and self.after_pieces is None and self.from_ is None:
            raise wrong("step_never_reached")
        if self.after_orders is not None and self.after_pieces is not None:
            raise wrong("step_counts_both", "after_pieces")
        return self


class LimitsDocument(DocumentPart):
    reads = limits.Limits

    opens_at: Instant | None = None
    closes_at: Instant | None = None
    orders: _Count | None = None
    orders_per_buyer: _Count | None = None
    pieces: Annotated[dict[Slug, _Count], Field(max_length=MAX_LINES)] = {}
    pieces_per_buyer: Annotated[dict[Slug, _Count], Field(max_length=MAX_LINES)] = {}
    counted_as: Annotated[dict[Slug, limits.CountWord], Field(max_length=MAX_LINES)] = {}


class LabelledAskDocument(DocumentPart):
    reads = asks.LabelledAsk

    ask: Literal["no", "optional", "required"] = "no"
    label: Annotated[str, Field(max_length=120)] = ""


class AsksDocument(DocumentPart):
    reads = asks.Asks

    phone: Literal["no", "optional", "required"] = "no"
    address: Literal["if sent", "optional", "required"] = "if sent"
    invoice: Literal["no", "optional"] = "no"
    note: LabelledAskDocument = LabelledAskDocument()
    reference: LabelledAskDocument = LabelledAskDocument()
    newsletter: Annotated[str, Field(min_length=1, max_length=300)] | None = None
    keep_card: bool = False


class CodeRuleDocument(DocumentPart):
    reads = limits.CodeRule

    uses: _Count | None = None
    uses_per_buyer: _Count | None = None


class SocialCardDocument(DocumentPart):
    reads = content.SocialCard

    title: Annotated[str, Field(max_length=120)] = ""
    words: Annotated[str, Field(max_length=300)] = ""


class PageDocument(DocumentPart):
    reads = content.PageContent

    words: Annotated[str, Field(max_length=MAX_WORDS_LENGTH)] = ""
    button: Annotated[str, Field(max_length=60), AfterValidator(lambda text: _only(text, *BUTTON_PLACEHOLDERS))] = ""
    look: Name | None = None
    card: SocialCardDocument = SocialCardDocument()
    tells_left: bool = False


class AfterDocument(DocumentPart):
    reads = content.After

    message: Annotated[
        str, Field(max_length=MAX_MESSAGE_LENGTH), AfterValidator(lambda text: _only(text, *AFTER_PLACEHOLDERS))
    ] = ""
    go_to: WebAddress | None = None
    cancelled: WebAddress | None = None


class ContactDocument(DocumentPart):
    reads = content.LinkContact

    support_email: MailAddress | None = None
    statement_text: Annotated[str, Field(min_length=1, max_length=22)] | None = None


class LinkDocument(DocumentPart):
    """A link: the offer, and what stands around it."""

    reads = content.LinkContent

    format: Literal["cravik.link/1"]
    name: Name
    offer: OfferDocument
    follows: Annotated[
        list[Literal["tax", "delivery", "fee", "look", "terms", "contact"]], no_two("subject", lambda each: each, "")
    ] = []
    items: Annotated[dict[Slug, Name], Field(max_length=MAX_LINES)] = {}
    steps: Annotated[list[StepDocument], Field(max_length=MAX_STEPS)] = []
    limits: LimitsDocument = LimitsDocument()
    asks: AsksDocument = AsksDocument()
    questions: Annotated[
        list[QuestionDocument],
        Field(max_length=MAX_QUESTIONS),
        no_two("question key", lambda question: question.key, "key"),
    ] = []
    code_rules: Annotated[dict[Name, CodeRuleDocument], Field(max_length=1000)] = {}
    no_withdrawal: Annotated[dict[Slug, withdrawal.Exemption], Field(max_length=MAX_LINES)] = {}
    page: PageDocument = PageDocument()
    after: AfterDocument = AfterDocument()
    terms: Name | None = None
    contact: ContactDocument | None = None
    labels: Annotated[
        list[Annotated[str, Field(min_length=1, max_length=40)]],
        Field(max_length=MAX_LABELS),
        no_two("label", lambda label: label, ""),
    ] = []

    @model_validator(mode="after")
    def _parts_fit_together(self) -> Self:
        """What is followed stands nowhere else, and what names a line or a code names one of the offer."""
        faults = [*self._followed_and_own(), *self._unknown_lines(), *self._unknown_codes()]
        if faults:
            raise all_wrong(faults)
        lines = {line.key: line for line in self.offer.lines}
        for number, step in enumerate(self.steps):
            at = path("steps", number, "price")
            check_adds(step.price, lines[step.line].choices, at)
            check_most(step.price, lines[step.line].quantity, at)
        return self

    def _followed_and_own(self) -> Iterator[Fault]:
        own: dict[str, tuple[str, object]] = {
            "tax": ("offer.tax", self.offer.tax),
            "delivery": ("offer.delivery", self.offer.delivery),
            "fee": ("offer.fee", self.offer.fee),
            "look": ("page.look", self.page.look),
            "terms": ("terms", self.terms),
            "contact": ("contact", self.contact),
        }
        for subject in self.follows:
            at, there = own[subject]
            if there is not None:
                yield misfit("followed_and_own", at, subject=subject)

    def _unknown_lines(self) -> Iterator[Fault]:
        lines = {line.key for line in self.offer.lines}
        named = [(key, path("items", key)) for key in self.items]
        named += [(step.line, path("steps", number, "line")) for number, step in enumerate(self.steps)]
        for subject in ("pieces", "pieces_per_buyer", "counted_as"):
            named += [(key, path("limits", subject, key)) for key in getattr(self.limits, subject)]
        named += [(key, path("no_withdrawal", key)) for key in self.no_withdrawal]
        for key, at in named:
            if key not in lines:
                yield misfit("line_unknown", at, key=key)
        to_a_price = {code.line for code in self.offer.codes if isinstance(code, UnitPriceCodeDocument)}
        for number, step in enumerate(self.steps):
            if step.line in to_a_price and not isinstance(step.price, FixedPriceDocument):
                yield misfit("code_to_price_not_fixed", path("steps", number, "price"))

    def _unknown_codes(self) -> Iterator[Fault]:
        known = {normal_code(code.code) for code in self.offer.codes}
        ruled: set[str] = set()
        for code in self.code_rules:
            if normal_code(code) not in known:
                yield misfit("code_of_no_offer", path("code_rules", code), code=code)
            if normal_code(code) in ruled:
                yield misfit("stands_twice", path("code_rules", code), what="code")
            ruled.add(normal_code(code))
