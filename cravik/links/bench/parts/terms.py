"""What the link has from Setup, or decides itself: each subject by a sheet on a page of its own."""

from __future__ import annotations

from typing import ClassVar

from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.models import Link
from cravik.links.terms import follows, put_own, words_of_term
from cravik.setup.defaults import Defaults, Subject
from cravik.setup.words import TITLES


class TermsPart(BenchPart):
    """``piece`` is the link's own decision as its document has it; None: it follows Setup."""

    template = "links/bench/parts/term.html"
    subject: ClassVar[Subject]

    def __init__(self, link: Link, defaults: Defaults) -> None:
        super().__init__(link)
        self.defaults = defaults

    @property
    def title(self) -> str:
        return TITLES[self.subject]

    @property
    def is_own(self) -> bool:
        return not follows(self.link, self.subject)

    @property
    def words(self) -> str:
        """What the draft has of it."""
        return words_of_term(self.link, self.subject, self.defaults)

    @property
    def value(self) -> str:
        return self.words if self.is_own else ""

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.document = put_own(draft.document, cls.subject, change.piece)


class DeliveryPart(TermsPart):
    name = subject = Subject.DELIVERY
    heading = TITLES[Subject.DELIVERY]
    called = adds = "Delivery"
    found_by = "shipping post countries"
    phrases = ("delivery",)


class TaxPart(TermsPart):
    name = subject = Subject.TAX
    heading = TITLES[Subject.TAX]
    called = adds = "Tax"
    found_by = "vat gst"
    phrases = ("tax",)


class ConditionsPart(TermsPart):
    name = subject = Subject.CONDITIONS
    heading = TITLES[Subject.CONDITIONS]
    called = adds = "Terms of sale"
    found_by = "conditions agree"


class LookPart(TermsPart):
    name = subject = Subject.LOOK
    heading = TITLES[Subject.LOOK]
    called = adds = "Look"
    found_by = "colours logo brand design"


class ContactPart(TermsPart):
    name = subject = Subject.CONTACT
    heading = TITLES[Subject.CONTACT]
    called = adds = "Contact"
    found_by = "support e-mail phone"


class FeePart(TermsPart):
    name = subject = Subject.FEE
    heading = TITLES[Subject.FEE]
    called = adds = "Fee"
    found_by = "processor keep"
    phrases = ("fee",)
