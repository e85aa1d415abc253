"""The sample of other people's pages, where it runs."""

from __future__ import annotations

from collections.abc import Mapping

from django.conf import settings

#: By the way of putting a button somewhere: the pages to try it on, and what each is.
_PAGES: Mapping[str, tuple[tuple[str, str], ...]] = {
    "builder": (("builder", "a builder's page"), ("busy", "a busy page, ten times"), ("application", "an application")),
    "newsletter": (("newsletter", "a newsletter"),),
    "code": (("strict", "a page under a strict policy"), ("application", "an application")),
    "link": (),
}


def sample_pages(code: str, way: str) -> list[tuple[str, str]]:
    """The addresses on which the spot of that code can be tried, with what each page is; none where none runs."""
    at = settings.CRAVIK_OUTSIDE_ADDRESS
    return [(f"{at}/{name}/?spot={code}", words) for name, words in _PAGES[way]] if at else []
