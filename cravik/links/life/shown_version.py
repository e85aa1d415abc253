"""What a buyer sees and pays by: a version, or a draft in its rehearsal, as the core computes with it.

A version never changes, so what is read of it is read once in each process, and kept by its id.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from threading import Lock
from typing import TYPE_CHECKING, Any

from cravik.core.link.content import LinkContent
from cravik.core.link.counted import Counted
from cravik.core.link.limits import CodeRule
from cravik.core.link.steps import offer_at
from cravik.core.pricing.discounts import Code, normal_code
from cravik.core.pricing.offer import Offer
from cravik.later import later
from cravik.links.life.counting import uses_of
from cravik.links.models import Link, Version
from cravik.setup.looks import ShownLook, look_of
from cravik.setup.terms import Agreed, agreed_in
from cravik.upkeep.prepared import Param, PreparedSelect

if TYPE_CHECKING:
    from cravik.core.documents import link as link_documents
else:
    link_documents = later("cravik.core.documents.link")

_MAX_CACHED = 1024
_KEPT: dict[int, ShownVersion] = {}
_KEEPING = Lock()  # requests are answered by several threads
NO_RULE = CodeRule()


@dataclass(frozen=True, eq=False)
class ShownVersion:
    """A version (or a draft, without an ``version_id``) as it is worked with.

    The ``offer`` has none of its codes: the core is handed it with the one that was typed; see ``offer_with``.
    """

    version_id: int | None
    link_id: int
    content: LinkContent
    offer: Offer
    codes: Mapping[str, Code]
    rules: Mapping[str, CodeRule]
    look: ShownLook
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
        if len(bounded) < len(open_codes) or self.version_id is None:
            return bool(open_codes)
        used = uses_of(self.link_id) if bounded else {}
        return any(used.get(normal, 0) < most for normal, most in bounded.items())

    def rule_of(self, code: str) -> CodeRule:
        return self.rules.get(normal_code(code), NO_RULE)


def shown_version(version_id: int) -> ShownVersion:
    """The version of that id, read once. Raises ``Version.DoesNotExist``."""
    found = shown_versions([version_id]).get(version_id)
    if found is None:
        raise Version.DoesNotExist
    return found


def shown_versions(version_ids: Iterable[int]) -> dict[int, ShownVersion]:
    """The versions by their ids; those that are not kept yet are read in one query, however many they are."""
    wanted = set(version_ids)
    found = {pk: kept for pk in wanted if (kept := _KEPT.get(pk)) is not None}
    if missing := wanted - found.keys():
        for version in Version.objects.filter(id__in=missing).only("id", "link_id", "effective"):
            found[version.pk] = _read(version.effective, version.link_id, version.pk)
        with _KEEPING:
            _KEPT.update({pk: found[pk] for pk in missing & found.keys()})
            while len(_KEPT) > _MAX_CACHED:
                del _KEPT[next(iter(_KEPT))]  # the one that was read first
    return found


def shown_draft(link: Link) -> ShownVersion | None:
    """The draft as a rehearsal shows it, or None while something is missing."""
    return None if link.effective is None else _read(link.effective, link.pk, None)


_PUBLISHED = PreparedSelect(lambda: Link.objects.filter(pk=Param("link")).values_list("version_id"))


def published_content(link_id: int) -> LinkContent:
    """What is published of a link now, which was published once. Raises ``Version.DoesNotExist``."""
    row = _PUBLISHED.first(link=link_id)
    return shown_version(row[0] if row else 0).content


def shown_to_buyers(link: Link) -> ShownVersion | None:
    """What buyers see of the link: its version, or its draft until it is published."""
    return shown_version(link.version_id) if link.version_id else shown_draft(link)


def _read(document: Mapping[str, Any], link_id: int, version_id: int | None) -> ShownVersion:
    content = link_documents.read_link(document["link"])
    return ShownVersion(
        version_id=version_id,
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
