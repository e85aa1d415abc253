"""The page as its buyer filled it in, once more after a payment that did not go through.

It is led to, so that going back sends nothing twice. The card is to be typed again: nothing of it is kept.
"""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.checkout.framing import by_address, framed_where_allowed
from cravik.checkout.models import Checkout
from cravik.checkout.number_format import number_locale
from cravik.checkout.opening import Opened, open_address
from cravik.checkout.page_token import PageToken, TokenRefused, parse_token
from cravik.checkout.pages.closed import show_closed
from cravik.checkout.pages.page import offered_at, page_of
from cravik.checkout.pages.showing import show_page
from cravik.checkout.rehearsing import opened_draft
from cravik.links.access import link_or_404
from cravik.links.life.shown_version import ShownVersion, shown_version
from cravik.links.queries import present_address
from cravik.orders.own_page import is_own, own_path, with_mark
from cravik.payments.models import Attempt
from cravik.payments.ways.card import bank_address
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.framing import framed_by_ourselves, is_on_page
from cravik.ui.see_other import lead_to


def again_path(link_id: int, reference: str, *, rehearsal: bool) -> str:
    """Where the buyer of the page of that reference finds it once more, filled in as it was."""
    if rehearsal:
        path = reverse("pay:rehearsal_again", args=[link_id, reference])
    else:
        path = reverse("pay:again", args=[present_address(link_id), reference])
    return with_mark(path, reference)


@require_safe
@framed_where_allowed(by_address)
def again(request: HttpRequest, slug: str, reference: str) -> HttpResponse:
    """Of a live page."""
    opened = open_address(slug)
    if opened is None:
        raise Http404
    checkout = _checkout(opened.link_id, reference, rehearsal=False)
    if checkout is None or not is_own(request, reference):
        return lead_to(request, reverse("checkout:page", args=[slug]))
    attempt = latest_attempt(checkout)
    # Whoever pays, or has paid, is led on, even where that was the last of it.
    closed = None if attempt and attempt.state in Attempt.MAY_HAVE_PAID else opened.why_closed(timezone.now())
    if closed:
        return show_closed(request, opened, closed)
    return _shown(request, opened, checkout, attempt) or lead_to(request, reverse("checkout:page", args=[slug]))


@require_safe
@seller_page(Permission.MAKE)
@framed_by_ourselves
def rehearsal_again(request: SellerRequest, link_id: int, reference: str) -> HttpResponse:
    """Of a rehearsal's page."""
    opened = opened_draft(link_or_404(request, link_id))
    checkout = _checkout(link_id, reference, rehearsal=True)
    if checkout is None or not is_own(request, reference) or opened.version is None:
        return redirect("checkout:rehearsal", link_id)
    shown = _shown(request, opened, checkout, latest_attempt(checkout))
    return shown or redirect("checkout:rehearsal", link_id)


def _checkout(link_id: int, reference: str, *, rehearsal: bool) -> Checkout | None:
    found = Checkout.objects.filter(reference=reference, rehearsal=rehearsal, lines__link_id=link_id)
    return found.prefetch_related("lines").first()


def latest_attempt(checkout: Checkout) -> Attempt | None:
    """The last try at paying it, or none."""
    return Attempt.objects.filter(checkout=checkout).order_by("-begun_at", "-id").first()


def led_to_bank(request: HttpRequest, attempt: Attempt, reference: str) -> HttpResponse:
    """On to the bank's page, which wants the whole window: from a frame, by the page that waits for the answer and has
    a way there."""
    if is_on_page(request):
        return lead_to(request, own_path(reference))
    return lead_to(request, bank_address(attempt))


def _shown(request: HttpRequest, opened: Opened, checkout: Checkout, attempt: Attempt | None) -> HttpResponse | None:
    """The page with what was typed and what became of the payment; None where that is not known."""
    try:
        token = parse_token(checkout.typed.get("page", ""))
    except TokenRefused:
        return None
    if attempt is None:
        return None
    if attempt.state in Attempt.MAY_HAVE_PAID:
        if bank_address(attempt):
            return led_to_bank(request, attempt, checkout.reference)
        return lead_to(request, own_path(checkout.reference))
    version, token = _version_of(opened, token)
    offered = offered_at(opened, version, token.instant, number_locale(request))
    action = reverse("pay:rehearsal", args=[opened.link_id]) if token.rehearsal else _live_action(opened)
    page = page_of(opened, offered, token, action, shown=checkout.typed)
    if attempt.state == Attempt.State.DECLINED:
        page.decline_reason = attempt.reason
    else:
        page.notices = ("called_off" if attempt.reason == Attempt.CALLED_OFF else "not_reached",)
    return show_page(request, page, token)


def _version_of(opened: Opened, token: PageToken) -> tuple[ShownVersion, PageToken]:
    """What the page showed, as long as its price is promised; what holds now after that."""
    now = timezone.now()
    assert opened.version is not None
    if token.rehearsal or token.version_id is None or not token.holds(now):
        return opened.version, token.shown_now(opened.version.version_id, now)
    return shown_version(token.version_id), token.shown_again()


def _live_action(opened: Opened) -> str:
    return reverse("pay:live", args=[opened.row.slug])
