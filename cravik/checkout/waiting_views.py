"""Leaving an address on the page of a link that can't be bought just now."""

from __future__ import annotations

from contextlib import suppress

from django import forms
from django.core.cache import caches
from django.http import Http404, HttpRequest, HttpResponse
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from cravik.checkout.framing import by_address, framed_where_allowed
from cravik.checkout.number_format import number_locale
from cravik.checkout.opening import Closed, Opened, open_address
from cravik.checkout.pages.closed import AWAITED, show_closed
from cravik.checkout.pages.page import is_gone, offered_at
from cravik.journal.visitors import network_of
from cravik.links.waiting import TooManyWait, wait_for
from cravik.ui.fields import MailAddressField
from cravik.ui.see_other import lead_to

#: So many addresses may be left from one network in an hour.
MAX_LEFT = 30
_LEFT_FOR = 3600
_TOO_MANY = "That is more than can be noted just now. Write to the address below instead."


class WaitForm(forms.Form):
    email = MailAddressField(
        label="E-mail",
        error_messages={"required": "Write the address that the message should go to."},
        widget=forms.EmailInput(attrs={"autocomplete": "email"}),
    )


@csrf_exempt  # no cookie is asked for: whoever has the page may leave an address
@require_POST
@framed_where_allowed(by_address)
def wait(request: HttpRequest, slug: str) -> HttpResponse:
    """Note the address for one message. Where it can be bought meanwhile, the page itself is the answer."""
    opened = open_address(slug)
    if opened is None or opened.terms is None:
        raise Http404
    why = why_not_buyable(request, opened)
    page = reverse("checkout:page", args=[opened.row.slug])
    if why is None:
        return lead_to(request, page)
    form = WaitForm(request.POST)
    if why not in AWAITED:
        return show_closed(request, opened, why)
    if form.is_valid():
        try:
            _count(request)
            wait_for(opened.link_id, form.cleaned_data["email"], timezone.now())
        except TooManyWait:
            form.add_error("email", _TOO_MANY)
        else:
            return lead_to(request, f"{page}?noted=yes")
    return show_closed(request, opened, why, status=400, form=form)


def why_not_buyable(request: HttpRequest, opened: Opened) -> Closed | None:
    """Why nothing can be bought now, stock included."""
    now = timezone.now()
    if why := opened.why_closed(now):
        return why
    assert opened.terms is not None
    return "sold_out" if is_gone(offered_at(opened, opened.terms, now, number_locale(request))) else None


def _count(request: HttpRequest) -> None:
    """Raises ``TooManyWait`` where too many were left from there within the hour."""
    name, shared = f"waits-{network_of(request.META.get('REMOTE_ADDR', ''))}", caches["shared"]
    left = int(shared.get(name, 0)) + 1
    if left > MAX_LEFT:
        raise TooManyWait
    with suppress(OSError):  # on a full disk nobody is turned away
        shared.set(name, left, _LEFT_FOR)
