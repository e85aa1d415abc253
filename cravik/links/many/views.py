"""One act on many links: what has to be said, a look at what it would do to each, and doing it."""

from __future__ import annotations

import json
from zoneinfo import ZoneInfo

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_POST

from cravik.core.english import counted
from cravik.core.text.said.orders import read_order
from cravik.core.text.said.pieces import When
from cravik.links.finding.found import Sought, found_links, sorted_links, sought_of
from cravik.links.making.documents import exported
from cravik.links.many import MANY_ACTS, ManyAct
from cravik.links.many.base import NotDone
from cravik.links.models import Link
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id

#: So many links are changed by one press.
MAX_AT_ONCE = 500
MAX_TEXT = 400
_TOLD = 5


@require_POST
@seller_page(Permission.MAKE)
def many(request: SellerRequest) -> HttpResponse:
    """The look at what the chosen act would do to the chosen links; doing it, once that was seen."""
    return _look_or_do(request, request.POST)


@require_POST
@seller_page(Permission.MAKE)
def said_many(request: SellerRequest) -> HttpResponse:
    """The same look at what a line says of many links: “everything labelled market up 5 %”."""
    text, business = request.POST.get("line", "")[:MAX_TEXT], request.business
    zone, now = ZoneInfo(business.time_zone), timezone.now()
    said = read_order(text, business.currency, When(now.astimezone(zone).date(), zone, now))
    if not said.is_whole:
        messages.warning(request, f"Not understood: “{text}”. {said.why}".strip())
        return redirect(f"{reverse('results:links')}?{urlencode({'q': text})}")
    sent = QueryDict(mutable=True)
    sent.update({"many": said.act, "all": "yes", "said": "yes", "sought": urlencode(sought_of(said).query)})
    until = said.until.astimezone(zone).strftime("%Y-%m-%dT%H:%M") if said.until else ""
    sent.update({"change": said.change, "currency": business.currency, "until": until, "closes_at": until})
    sent.update({"give": said.give, "take": said.take, "publish": "on"})
    return _look_or_do(request, sent)


def _look_or_do(request: SellerRequest, sent: QueryDict) -> HttpResponse:
    kind = MANY_ACTS.get(sent.get("many", ""))
    links = _chosen(request, sent)
    back = _back(sent)
    if kind is None or not links:
        messages.warning(request, "Tick the links first." if kind else "Choose what to do with them.")
        return redirect(back)
    if len(links) > MAX_AT_ONCE:
        messages.warning(request, f"These are {len(links):,} links; {MAX_AT_ONCE} can be changed at once.")
        return redirect(back)
    if kind.is_harmless:
        return _export(links)
    is_said = "said" in sent
    act = kind(request.business, timezone.now(), sent if is_said or not kind.base_fields else None)
    is_ready = act.is_bound and act.is_valid() if act.fields else True
    query = urlencode([(name, sent.get(name, "")) for name in act.fields])
    # Only what was looked at is done: a field that was changed since is looked at once more.
    if is_ready and sent.get("sure") == "yes" and sent.get("looked") == query:
        return _done(request, act, links, _seen(sent), back)
    looks = [act.preview(link) for link in links] if is_ready else []
    context = {
        "act": act,
        "links": links,
        "ids": ",".join(f"{link.pk}:{_mark(link)}" for link in links),
        "sought": sent.get("sought", "")[:600],
        "looks": looks,
        "looked": query,
        "changes": sum(not look.is_left for look in looks),
        "back": back,
    }
    return render(request, "links/many.html", context, status=400 if act.errors else 200)


def _chosen(request: SellerRequest, sent: QueryDict) -> list[Link]:
    """The links that were ticked, or all that the list has, in its order."""
    listed = (
        Link.objects.of(request.business).select_related("version", "business").prefetch_related("sold_items__item")
    )
    if sent.get("all") == "yes":
        found = found_links(request.business, _sought(sent)).values_list("id", flat=True)
        return list(sorted_links(listed.filter(id__in=found), ""))
    ids = {parse_id(each) for each in sent.getlist("link")} | set(_seen(sent))
    return list(sorted_links(listed.filter(id__in=list(ids)[:5000]), ""))


def _mark(link: Link) -> str:
    """What is another whenever the link is."""
    return f"{link.revision}.{link.state}.{'away' if link.archived_at else ''}"


def _seen(sent: QueryDict) -> dict[int, str]:
    """How each link was when it was looked at."""
    pairs = (each.partition(":") for each in sent.get("ids", "").split(","))
    return {parse_id(pk): mark for pk, _, mark in pairs}


def _sought(sent: QueryDict) -> Sought:
    """What the list was filtered by."""
    return Sought.of(_list(sent))


def _list(sent: QueryDict) -> dict[str, str]:
    """What stood in the list's address."""
    return QueryDict(sent.get("sought", "")[:600]).dict()


def _back(sent: QueryDict) -> str:
    """The list as it was: its filter and its order stand in the address."""
    query = _sought(sent).query | {name: order for name, order in _list(sent).items() if name == "sort"}
    return f"{reverse('results:links')}{f'?{urlencode(query)}' if query else ''}"


def _export(links: list[Link]) -> HttpResponse:
    documents = [exported(link) for link in links]
    response = HttpResponse(json.dumps(documents, ensure_ascii=False, indent=2), content_type="application/json")
    response["Content-Disposition"] = 'attachment; filename="links.json"'
    return response


def _done(request: SellerRequest, act: ManyAct, links: list[Link], seen: dict[int, str], back: str) -> HttpResponse:
    """Do it to each link that is as it was looked at: a second press of the button finds none of them so."""
    done, left = 0, []
    for link in links:
        try:
            if seen.get(link.pk) != _mark(link):
                raise NotDone.of("changed_since")
            act.apply(link, request.by)
        except NotDone as why:
            left.append(f"“{link.name}”: {why}")
        else:
            done += 1
    tell = messages.success if done else messages.warning
    tell(request, f"{counted(done, 'link', 'links')} {act.done}.")
    if left:
        more = f" And {len(left) - _TOLD} more." if len(left) > _TOLD else ""
        messages.warning(request, f"Not changed: {' '.join(left[:_TOLD])}{more}")
    return redirect(back)
