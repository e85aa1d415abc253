"""Everything that makes a link what it is: the offer, and what stands around it without changing a sum by itself."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from cravik.core.link.asks import NOTHING_MORE, Asks
from cravik.core.link.limits import NO_LIMITS, CodeRule, Limits
from cravik.core.link.questions import Question
from cravik.core.link.steps import Step
from cravik.core.link.withdrawal import Exemption
from cravik.core.pricing.offer import Offer

#: What a link may take from Setup, in the order in which documents name it.
Subject = Literal["tax", "delivery", "fee", "look", "terms", "contact"]
SUBJECTS: tuple[Subject, ...] = ("tax", "delivery", "fee", "look", "terms", "contact")

#: What may stand in braces: on the pay button, the sum; in the message after paying, what belongs to the order.
BUTTON_PLACEHOLDERS = ("amount",)
AFTER_PLACEHOLDERS = ("buyer", "thing", "amount", "order", "reference")


@dataclass(frozen=True, slots=True)
class SocialCard:
    """What social apps show of the link; empty: made from the offer."""

    title: str = ""
    words: str = ""


@dataclass(frozen=True, slots=True)
class PageContent:
    """How the page speaks and looks: the seller's ``words`` (Markdown), the pay ``button``'s words, in which
    ``{amount}`` stands for the sum, the name of its own ``look``, and whether it ``tells_left``: how many are left at
    the present price, where a later one follows after so many orders."""

    words: str = ""
    button: str = ""
    look: str | None = None
    card: SocialCard = SocialCard()
    tells_left: bool = False


@dataclass(frozen=True, slots=True)
class After:
    """What happens after paying: a ``message`` (Markdown with ``AFTER_PLACEHOLDERS``), another page to go on to, and
    the page for who cancels. Both are https addresses."""

    message: str = ""
    go_to: str | None = None
    cancelled: str | None = None


@dataclass(frozen=True, slots=True)
class LinkContact:
    """Whom the link's buyers ask, and what their statement says; None: as the business has it."""

    support_email: str | None = None
    statement_text: str | None = None


@dataclass(frozen=True, slots=True)
class LinkContent:
    """A link without its address and state. ``items`` names, by their codes, the lines that come from the catalogue;
    ``follows`` the subjects that Setup decides; ``terms`` its own terms, by their name."""

    name: str
    offer: Offer
    follows: tuple[Subject, ...] = ()
    items: Mapping[str, str] = field(default_factory=dict)
    steps: tuple[Step, ...] = ()
    limits: Limits = NO_LIMITS
    asks: Asks = NOTHING_MORE
    questions: tuple[Question, ...] = ()
    code_rules: Mapping[str, CodeRule] = field(default_factory=dict)
    #: Why there is no right to withdraw from buying a line, where the seller's country gives one.
    no_withdrawal: Mapping[str, Exemption] = field(default_factory=dict)
    page: PageContent = PageContent()
    after: After = After()
    terms: str | None = None
    contact: LinkContact | None = None
    labels: tuple[str, ...] = ()

    @property
    def counts_pieces(self) -> bool:
        """Whether it matters to the next buyer how many pieces of a line there are."""
        return bool(self.limits.pieces) or any(step.after_pieces is not None for step in self.steps)
