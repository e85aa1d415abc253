"""Leaving an address on the page of a link that can't be bought just now."""

from __future__ import annotations

from datetime import datetime, timedelta

from django import forms
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods, require_POST

from cravik.checkout.framing import by_address, framed_where_allowed
from cravik.checkout.number_format import number_locale
from cravik.checkout.opening import Closed, Opened, open_address
from cravik.checkout.pages.closed import AWAITED, show_closed
from cravik.checkout.pages.page import is_gone, offered_at
from cravik.checkout.pages.showing import uncached
from cravik.links.life.shown_version import shown_version
from cravik.links.models import Link
from cravik.links.waiting.waiters import TooManyWait, confirm, link_waited_for, wait_for
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.ui.fields import MailAddressField
from cravik.ui.see_other import lead_to
from cravik.upkeep.networks import network_asking
from cravik.upkeep.queue import enqueue_once
from cravik.upkeep.tries import Bound, take_try

#: So many addresses may be left from one network in an hour.
MAX_LEFT = 30
_LEFT = Bound(MAX_LEFT, timedelta(hours=1))
_TOO_MANY = "No more addresses can be taken just now. Write to the address below instead."


class WaitForm(forms.Form):
    email = MailAddressField(
        label="E-mail",
        error_messages={"required": "Enter the address to send the message to."},
        widget=forms.EmailInput(attrs={"autocomplete": "email"}),
    )


@csrf_exempt  # no cookie is asked for: whoever has the page may leave an address
@require_POST
@framed_where_allowed(by_address)
def wait(request: HttpRequest, slug: str) -> HttpResponse:
    """Note the address for one message. Where it can be bought meanwhile, the page itself is the answer."""
    opened = open_address(slug)
    if opened is None or opened.version is None:
        raise Http404
    now = timezone.now()
    why = why_not_buyable(request, opened, now)
    page = reverse("checkout:page", args=[opened.row.slug])
    if why is None:
        return lead_to(request, page)
    form = WaitForm(request.POST)
    if why not in AWAITED:
        return show_closed(request, opened, why)
    if form.is_valid():
        try:
            _count(request, now)
            wait_for(Link.objects.get(id=opened.link_id), form.cleaned_data["email"], now)
        except TooManyWait:
            form.add_error("email", _TOO_MANY)
        else:
            enqueue_once(deliver_waiting_letters)
            return lead_to(request, f"{page}?noted=yes")
    return show_closed(request, opened, why, status=400, form=form)


@csrf_exempt  # whoever has the address in the letter says so; nothing else is done by it
@require_http_methods(["GET", "HEAD", "POST"])
def confirm_waiting(request: HttpRequest, key: str) -> HttpResponse:
    """Where the letter leads: one press says that it was they, so that a program that follows links says nothing."""
    link = link_waited_for(key)
    version = shown_version(link.version_id) if link and link.version_id else None
    if link is None or version is None:
        raise Http404
    confirmed = request.method == "POST" and confirm(key, timezone.now())
    context = {"link": link, "title": version.offer.title, "look": version.look, "said": confirmed}
    return uncached(request, render(request, "checkout/confirm_waiting.html", context))


def why_not_buyable(request: HttpRequest, opened: Opened, now: datetime) -> Closed | None:
    """Why nothing can be bought now, stock included."""
    if why := opened.why_closed(now):
        return why
    assert opened.version is not None
    return "sold_out" if is_gone(offered_at(opened, opened.version, now, number_locale(request))) else None


def _count(request: HttpRequest, now: datetime) -> None:
    """Raises ``TooManyWait`` where too many were left from there within the hour."""
    if not take_try("waiting", network_asking(request), bound=_LEFT, now=now):
        raise TooManyWait
