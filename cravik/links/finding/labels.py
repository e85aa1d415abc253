"""Labels: words of the seller's by which links are sorted. A draft has them; a table beside it finds links by them."""

from __future__ import annotations

from collections.abc import Iterable

from cravik.core.errors import Fault
from cravik.links.models import Link, LinkLabel
from cravik.people.models import Business

MAX_LABELS, MAX_LABEL = 20, 40


def keep_labels(link: Link) -> None:
    """Let the link be found by the labels that its draft has. In the transaction under way."""
    wanted = list(link.draft.get("labels", []))
    if list(link.label_rows.values_list("label", flat=True)) != wanted:
        link.label_rows.all().delete()
        LinkLabel.objects.bulk_create(LinkLabel(link=link, label=label) for label in wanted)


def labels_of(business: Business) -> list[str]:
    """Every label that a link of the business has, by the alphabet."""
    rows = LinkLabel.objects.filter(link__business=business, link__removed_at=None).order_by("label")
    return list(rows.values_list("label", flat=True).distinct())


def labels_in(text: str) -> list[str]:
    """The labels that are typed with commas between them, each once whatever its capitals."""
    named: dict[str, str] = {}
    for label in text.split(","):
        if words := " ".join(label.split()):
            named.setdefault(words.casefold(), words)
    return list(named.values())


def labels_fault(labels: Iterable[str]) -> Fault | None:
    """Why the labels cannot be kept, or None."""
    labels = list(labels)
    if len(labels) > MAX_LABELS:
        return Fault("too_many_labels", count=len(labels), most=MAX_LABELS)
    long = next((label for label in labels if len(label) > MAX_LABEL), "")
    return Fault("label_too_long", label=long[:MAX_LABEL], most=MAX_LABEL) if long else None
