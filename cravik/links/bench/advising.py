"""The advice on a draft, beside the phrases that it is about: told, mended by a button, or dismissed until its figures
change."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from cravik.core.coded import Coded
from cravik.core.documents.mends import Mend, mend_for
from cravik.core.errors import Fault
from cravik.core.pricing.advice import advise
from cravik.core.text.faults import fault_words, mend_words
from cravik.links.bench.changes import DraftInHand
from cravik.links.models import Link, items_of_draft

KEY_LENGTH = 16
#: So many pieces of advice stay dismissed; the oldest are forgotten.
MAX_DISMISSED = 100
#: What of a line is its item's: the draft cannot change it.
_OF_ITEM = ("choices", "ships", "weight_g", "tax_category", "name", "sku")


@dataclass(frozen=True)
class Advice:
    """A piece of advice. ``key`` is made of its figures, so it is another once they change; ``mend`` is what mends it,
    or None."""

    fault: Fault
    mend: Coded | None

    @property
    def key(self) -> str:
        return key_of(self.fault)

    @property
    def words(self) -> str:
        return fault_words(self.fault)

    @property
    def mend_words(self) -> str:
        """What the button says that mends it."""
        return mend_words(self.mend) if self.mend else ""


def advice_on(link: Link) -> list[Advice]:
    """What a careful friend would say of the link's draft, but for what was dismissed."""
    if link.effective is None:
        return []
    faults = [fault for fault in advise(link.offer) if key_of(fault) not in link.dismissed_advice]
    mends = [_mend(link, fault) for fault in faults]
    return [Advice(fault, mend.done if mend else None) for fault, mend in zip(faults, mends, strict=True)]


def key_of(fault: Fault) -> str:
    figures = [fault.code, fault.why, *(f"{name}={fault.fields[name]}" for name in sorted(fault.fields))]
    return hashlib.sha256("\n".join(figures).encode()).hexdigest()[:KEY_LENGTH]


def mend_by(link: Link, key: str) -> Mend | None:
    """The mend of the advice of that key, if the draft still gets it."""
    if link.effective is None:
        return None
    return next((_mend(link, fault) for fault in advise(link.offer) if key_of(fault) == key), None)


def _mend(link: Link, fault: Fault) -> Mend | None:
    _, _, part = fault.at.partition("].")
    if fault.at.startswith("lines[") and part.startswith(_OF_ITEM):
        number = int(fault.at[len("lines[") :].partition("]")[0])
        if link.draft["offer"]["lines"][number]["key"] in items_of_draft(link):
            return None
    return mend_for(fault, link.draft["offer"], link.offer)


def put_mended(draft: DraftInHand, mend: Mend) -> None:
    """Put the mended offer into the draft; what was said of codes that are no more goes with them."""
    codes = {code["code"] for code in mend.offer.get("codes", [])}
    rules = {code: rule for code, rule in draft.document.get("code_rules", {}).items() if code in codes}
    draft.put(offer=mend.offer)
    if "code_rules" in draft.document:
        draft.put(code_rules=rules)
