"""The pages of the sample site: what each is called, and what its server says of what it may load."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class OutsidePage:
    """``policy`` has ``{cravik}`` where the application's origin stands. Of a page with ``spots`` above one, so many
    buttons stand on it."""

    name: str
    title: str
    policy: str = ""
    spots: int = 1


_STRICT = (
    "default-src 'none'; base-uri 'none'; form-action 'none'; style-src 'self'; img-src 'self' {cravik};"
    " script-src {cravik}; connect-src {cravik}; frame-src {cravik}"
)
#: One row a page; each has a template of its name.
PAGES = {
    page.name: page
    for page in (
        OutsidePage("builder", "A page made in a page builder"),
        OutsidePage("newsletter", "A newsletter"),
        OutsidePage("strict", "A page under a strict policy", _STRICT),
        OutsidePage("application", "An application of one page"),
        OutsidePage("busy", "A busy page with ten buttons", spots=10),
    )
}
