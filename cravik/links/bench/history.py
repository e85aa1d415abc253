"""Undo and redo of what was changed on a bench: the steps of a day, each with the draft before and after it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any, TypedDict

from cravik.catalogue.models import Item
from cravik.core.coded import Coded
from cravik.core.documents.data import FormerPrices, LinkData, put
from cravik.links.bench.step_words import step_words
from cravik.links.models import DraftStep, Link, SoldItem
from cravik.people.actors import Actor

#: So many steps are kept, for so long.
MAX_STEPS = 50
KEPT_FOR = timedelta(days=1)
#: What is typed into the same field within this time is one step.
ONE_STEP = timedelta(seconds=15)


class BenchState(TypedDict):
    """What of a link a step brings back."""

    draft: LinkData
    former_prices: FormerPrices


@dataclass(frozen=True)
class History:
    """What can be undone and done again next, in words; empty where nothing can."""

    undo: str = ""
    redo: str = ""


def state_of(link: Link) -> BenchState:
    """What of the link a step brings back."""
    return {"draft": link.draft, "former_prices": link.former_prices}


def history_of(link: Link) -> History:
    """What the bench offers to undo and to do again."""
    steps = list(_steps(link).only("done", "undone"))
    done = [step for step in steps if not step.undone]
    undone = [step for step in steps if step.undone]
    return History(_words_of(done[-1]) if done else "", _words_of(undone[0]) if undone else "")


def _words_of(step: DraftStep) -> str:
    return step_words(Coded(each["code"], **each["fields"]) for each in step.done)


def remember(link: Link, before: BenchState, revision: int, done: Iterable[Coded], now: datetime, *, by: Actor) -> None:
    """Keep a step from ``before``, at which the link had that ``revision``, to what it is now. What was undone by then
    cannot be done again."""
    after = state_of(link)
    if after == before:
        return
    done_data = [{"code": each.code, "fields": each.fields} for each in done]
    steps = DraftStep.objects.filter(link=link)
    DraftStep.objects.filter(made_at__lte=now - KEPT_FOR).delete()  # of every link
    steps.exclude(revision=revision, undone=False).delete()
    last = steps.last()
    if last and (last.done, last.actor) == (done_data, by) and last.after == before and now - last.made_at < ONE_STEP:
        last.after, last.made_at = after, now
        last.save(update_fields=["after", "made_at"])
    else:
        DraftStep.objects.create(
            link=link,
            done=done_data,
            before=before,
            after=after,
            revision=link.revision,
            made_at=now,
            by=by.kind,
            by_name=by.name,
            user_id=by.user_id,
        )
    steps.update(revision=link.revision)
    too_many = steps.order_by("-id").values_list("id", flat=True)[MAX_STEPS:]
    DraftStep.objects.filter(id__in=list(too_many)).delete()


def step_back(link: Link) -> BenchState | None:
    """The state to which undoing brings the link, and that step marked as undone; None where there is nothing."""
    step = _steps(link).filter(undone=False).last()
    if step is None:
        return None
    DraftStep.objects.filter(id=step.pk).update(undone=True)
    before: BenchState = step.before
    return before


def step_forward(link: Link) -> BenchState | None:
    """The state to which doing it again brings the link."""
    step = _steps(link).filter(undone=True).first()
    if step is None:
        return None
    DraftStep.objects.filter(id=step.pk).update(undone=False)
    after: BenchState = step.after
    return after


def stay_with(link: Link, former: int) -> None:
    """Let the steps that stood at the ``former`` revision stand at the present one: they brought it about."""
    DraftStep.objects.filter(link=link, revision=former).update(revision=link.revision)


def sell_again(link: Link, draft: LinkData) -> LinkData:
    """Let the link's draft sell the items that a former ``draft`` names, and give it without those that are no more."""
    named: dict[str, str] = draft.get("items", {})
    items = {item.code: item for item in Item.objects.of(link.business).filter(code__in=named.values())}
    wanted = {line: items[code] for line, code in named.items() if code in items}
    sold = SoldItem.objects.filter(link=link, version=None)
    sold.exclude(line__in=wanted).delete()
    there = dict(sold.values_list("line", "item_id"))
    for line, item in wanted.items():
        if there.get(line) != item.pk:
            sold.filter(line=line).delete()
            SoldItem.objects.create(link=link, line=line, item=item)
    return put(draft, items={line: item.code for line, item in wanted.items()}) if "items" in draft else draft


def _steps(link: Link) -> Any:
    return DraftStep.objects.filter(link=link, revision=link.revision)
