"""What a buyer sees and pays by: an edition, or a draft in its rehearsal, as the core computes with it.

An edition never changes, so what is read of it is read once in each process, and kept by its id.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from threading import Lock
from typing import Any

from cravik.core.documents.link import read_link
from cravik.core.link.content import LinkContent
from cravik.core.link.counted import Counted
from cravik.core.link.limits import CodeRule
from cravik.core.link.steps import offer_at
from cravik.core.pricing.discounts import Code, normal_code
from cravik.core.pricing.offer import Offer
from cravik.links.counting import uses_of
from cravik.links.models import Edition, Link
from cravik.setup.conditions import Agreed, agreed_in
from cravik.setup.looks import Look, look_of
from cravik.upkeep.prepared import Param, PreparedSelect

_MAX_CACHED = 1024
_KEPT: dict[int, Effective] = {}
_KEEPING = Lock()  # requests are answered by several threads
NO_RULE = CodeRule()


@dataclass(frozen=True, eq=False)
class Effective:
    """An edition (or a draft, without an ``edition_id``) as it is worked with.

    The ``offer`` has none of its codes: the core is handed it with the one that was typed; see ``offer_with``.
    """

    edition_id: int | None
    link_id: int
    content: LinkContent
    offer: Offer
    codes: Mapping[str, Code]
    rules: Mapping[str, CodeRule]
    look: Look
    #: The terms that buyers are asked to agree to.
    agreed: Agreed | None
    #: Contact and statement, where the link has its own.
    own_contact: Mapping[str, str]
    #: The catalogue's items that the lines sell, by line.
    items: Mapping[str, int]

    def offer_with(self, typed: str | None, offer: Offer | None = None) -> Offer:
        """The offer (or the one that holds now) with the code that a buyer typed, if it has that one."""
        there = offer or self.offer
        code = self.codes.get(normal_code(typed)) if typed else None
        return replace(there, codes=(code,)) if code else there

    def offer_at(self, instant: datetime, counted: Counted) -> Offer:
        """The offer that holds at the instant after what is counted."""
        return offer_at(self.offer, self.content.steps, instant, counted)

    def a_code_works(self, day: date) -> bool:
        """Whether some code can be used on that day, and has uses left."""
        open_codes = [
            normal
            for normal, code in self.codes.items()
            if (code.starts_on is None or code.starts_on <= day) and (code.ends_on is None or day <= code.ends_on)
        ]
        bounded = {normal: uses for normal in open_codes if (uses := self.rule_of(normal).uses) is not None}
        if len(bounded) < len(open_codes) or self.edition_id is None:
            return bool(open_codes)
        used = uses_of(self.link_id) if bounded else {}
        return any(used.get(normal, 0) < most for normal, most in bounded.items())

    def rule_of(self, code: str) -> CodeRule:
        return self.rules.get(normal_code(code), NO_RULE)


def effective_edition(edition_id: int) -> Effective:
    """The edition of that id, read once. Raises ``Edition.DoesNotExist``."""
    found = read_editions([edition_id]).get(edition_id)
    if found is None:
        raise Edition.DoesNotExist
    return found


def read_editions(edition_ids: Iterable[int]) -> dict[int, Effective]:
    """The editions by their ids; those that are not kept yet are read in one query, however many they are."""
    wanted = set(edition_ids)
    found = {pk: kept for pk in wanted if (kept := _KEPT.get(pk)) is not None}
    if missing := wanted - found.keys():
        for edition in Edition.objects.filter(id__in=missing).only("id", "link_id", "effective"):
            found[edition.pk] = _read(edition.effective, edition.link_id, edition.pk)
        with _KEEPING:
            _KEPT.update({pk: found[pk] for pk in missing & found.keys()})
            while len(_KEPT) > _MAX_CACHED:
                del _KEPT[next(iter(_KEPT))]  # the one that was read first
    return found


def effective_draft(link: Link) -> Effective | None:
    """The draft as a rehearsal shows it, or None while something is missing."""
    return None if link.effective is None else _read(link.effective, link.pk, None)


_PUBLISHED = PreparedSelect(lambda: Link.objects.filter(pk=Param("link")).values_list("edition_id"))


def published_content(link_id: int) -> LinkContent:
    """What is published of a link now, which was published once. Raises ``Edition.DoesNotExist``."""
    row = _PUBLISHED.first(link=link_id)
    return effective_edition(row[0] if row else 0).content


def shown_to_buyers(link: Link) -> Effective | None:
    """What buyers see of the link: its edition, or its draft until it is published."""
    return effective_edition(link.edition_id) if link.edition_id else effective_draft(link)


def _read(document: Mapping[str, Any], link_id: int, edition_id: int | None) -> Effective:
    content = read_link(document["link"])
    return Effective(
        edition_id=edition_id,
        link_id=link_id,
        content=content,
        offer=replace(content.offer, codes=()),
        codes={normal_code(code.code): code for code in content.offer.codes},
        rules={normal_code(code): rule for code, rule in content.code_rules.items()},
        look=look_of(document["look"]),
        agreed=agreed_in(document),
        own_contact=document["contact"],
        items=document["items"],
    )
