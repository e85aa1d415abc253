"""What the link has from Setup, or decides itself: each subject by a sheet on a page of its own."""

from __future__ import annotations

from typing import ClassVar

from cravik.links.bench.changes import Change, DraftInHand
from cravik.links.bench.parts.base import BenchPart
from cravik.links.life.from_setup import follows, put_own, words_of_setting
from cravik.links.models import Link
from cravik.setup.defaults import Defaults, Subject
from cravik.setup.words import TITLES


class SettingPart(BenchPart):
    """``piece`` is the link's own decision as its document has it; None: it follows Setup."""

    template = "links/bench/parts/setting.html"
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
        return words_of_setting(self.link, self.subject, self.defaults)

    @property
    def value(self) -> str:
        return self.words if self.is_own else ""

    @classmethod
    def put(cls, draft: DraftInHand, change: Change) -> None:
        draft.document = put_own(draft.document, cls.subject, change.piece)


class DeliveryPart(SettingPart):
    name = subject = Subject.DELIVERY
    heading = TITLES[Subject.DELIVERY]
    called = adds = "Delivery"
    found_by = "shipping post countries"
    phrases = ("delivery",)


class TaxPart(SettingPart):
    name = subject = Subject.TAX
    heading = TITLES[Subject.TAX]
    called = adds = "Tax"
    found_by = "vat gst"
    phrases = ("tax",)


class TermsPart(SettingPart):
    name = subject = Subject.TERMS
    heading = TITLES[Subject.TERMS]
    called = adds = "Terms of sale"
    found_by = "conditions agree"


class LookPart(SettingPart):
    name = subject = Subject.LOOK
    heading = TITLES[Subject.LOOK]
    called = adds = "Look"
    found_by = "colours logo brand design"


class ContactPart(SettingPart):
    name = subject = Subject.CONTACT
    heading = TITLES[Subject.CONTACT]
    called = adds = "Contact"
    found_by = "support e-mail phone"


class FeePart(SettingPart):
    name = subject = Subject.FEE
    heading = TITLES[Subject.FEE]
    called = adds = "Fee"
    found_by = "processor keep"
    phrases = ("fee",)
