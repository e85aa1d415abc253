"""What a buyer returns to: the confirmation, the way to it by its reference, and what they bought to download."""

from __future__ import annotations

import re
from datetime import datetime

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.buyers.keys import buyer_key
from cravik.catalogue.digital_goods import file_path, gives_codes
from cravik.checkout.framing import by_checkout, framed_where_allowed
from cravik.checkout.models import Checkout
from cravik.checkout.number_format import number_locale
from cravik.journal.visitors import visitor_mark
from cravik.links.life.shown_version import ShownVersion, shown_draft, shown_to_buyers, shown_version
from cravik.links.places.onward import onward_of
from cravik.orders.after_paying import message_html, order_values
from cravik.orders.again_views import again_path, latest_attempt
from cravik.orders.downloads import DownloadOver, count_download, download_of, is_access_off
from cravik.orders.invoicing.asking import may_ask
from cravik.orders.models import PARTS, Order
from cravik.orders.own_page import is_own, may_try, own_path, payments_path, with_mark
from cravik.orders.paying.conclude import call_off
from cravik.orders.paying.reconcile import look_into
from cravik.payments.models import Attempt
from cravik.payments.services import CUT_OFF_AFTER
from cravik.payments.ways import present_ways
from cravik.payments.ways.card import bank_address
from cravik.setup.contact import seller_lines
from cravik.setup.looks import ShownLook
from cravik.ui.file_ranges import file_response
from cravik.ui.framing import framed_by_ourselves, keep_opener
from cravik.ui.see_other import lead_to


@require_safe
def find(request: HttpRequest) -> HttpResponse:
    """The way back by a reference that was written down."""
    typed = request.GET.get("reference", "").strip()[:60]
    reference = _plain(typed)
    if reference and Checkout.objects.filter(reference=reference).exists():
        return redirect("confirmation:page", reference)
    return render(request, "orders/find.html", {"typed": typed}, status=404 if typed else 200)


@csrf_exempt  # the address is known to its buyer alone; no cookie is asked for
@require_http_methods(["GET", "HEAD", "POST"])
@framed_where_allowed(by_checkout)
@framed_by_ourselves
def confirmation(request: HttpRequest, reference: str) -> HttpResponse:
    """What became of a payment. Who comes from paying, or types the e-mail address, sees all of it."""
    checkout, now = _checkout(reference), timezone.now()
    too_often = request.method == "POST" and not may_try(request, checkout.reference, now)
    if request.method == "POST" and not too_often and _is_email_of(checkout, request.POST.get("email", "")):
        return lead_to(request, own_path(checkout.reference))
    attempt = latest_attempt(checkout)
    if attempt and attempt.state == Attempt.State.PENDING:
        look_into(attempt, present_ways(), timezone.now)
    order = Order.objects.filter(checkout=checkout).prefetch_related(*PARTS).first()
    if attempt is None and order is None:
        raise Http404
    is_pending = order is None and attempt is not None and attempt.state == Attempt.State.PENDING
    own = is_own(request, checkout.reference)
    if own and order is None and not is_pending:
        return lead_to(request, again_path(checkout.line.link_id, checkout.reference, rehearsal=checkout.rehearsal))
    context: dict[str, object] = {
        "checkout": checkout,
        "attempt": attempt,
        "order": order,
        "own": own,
        "wrong_email": request.method == "POST",
        "too_often": too_often,
        "now": now,
        "number_locale": number_locale(request),
        "look": _look_of(checkout),
    }
    if own:
        context |= _to_its_buyer(request, checkout, attempt, order, now)
    template = _template(order, own=own) if order else "pending" if is_pending else "not_paid"
    with timezone.override(checkout.business.time_zone):
        status = 400 if request.method == "POST" else 200
        response = render(request, f"orders/{template}.html", context, status=status)
    response["Cache-Control"] = "private, no-cache"
    response["X-Robots-Tag"] = "noindex"
    response["Referrer-Policy"] = "no-referrer"  # the address holds the mark
    if own:  # it may stand in the window of a bank, which the page that waits in a frame closes
        keep_opener(response)
    response["X-Answered"] = "no" if is_pending else "yes"  # the waiting page asks
    return response


@csrf_exempt  # the mark in the address says that it is the buyer
@require_POST
@framed_where_allowed(by_checkout)
@framed_by_ourselves
def call_off_payment(request: HttpRequest, reference: str) -> HttpResponse:
    """The buyer does not want to wait any longer for a payment that nobody has decided."""
    checkout = _checkout(reference)
    if not is_own(request, checkout.reference):
        return redirect(checkout.path)
    attempt = latest_attempt(checkout)
    now = timezone.now()
    if attempt and _may_be_called_off(attempt, now):
        call_off(attempt, present_ways(), timezone.now)
    return lead_to(request, own_path(checkout.reference))


@require_safe
def download(request: HttpRequest, key: str) -> HttpResponseBase:
    """Send the file, or the range asked for, to whoever has its address.

    HEAD requests and missing files do not count as downloads.
    """
    found = download_of(key)
    path = file_path(found.file.key) if found else None
    if found is None or path is None or not path.is_file():
        raise Http404
    now = timezone.now()
    try:
        if request.method == "GET":
            count_download(found, visitor_mark(request, now.date()), now)
    except DownloadOver:
        checkout = found.order.checkout
        context = {"download": found, "checkout": checkout, "look": _look_of(checkout)}
        context["access_off"] = is_access_off(found.order)
        return render(request, "orders/download_over.html", context, status=410)
    response = file_response(request, path, found.file.title)
    # Whatever it is, it is not shown, run or framed as a page of ours.
    response["Content-Type"] = "application/octet-stream"
    response["Cache-Control"] = "private, no-store"
    response["X-Robots-Tag"] = "noindex"
    return response


def _template(order: Order, *, own: bool) -> str:
    """What is shown of an order."""
    if order.paid_at is None:
        return "awaited"
    return "confirmation" if own else "paid"


def _to_its_buyer(
    request: HttpRequest, checkout: Checkout, attempt: Attempt | None, order: Order | None, now: datetime
) -> dict[str, object]:
    """What of the page is shown to nobody else."""
    version = shown_version(checkout.line.version_id)
    return {
        "call_off": _call_off_path(checkout) if attempt and _may_be_called_off(attempt, now) else "",
        "version": version,
        "seller_lines": seller_lines(checkout.business),
        "downloads": list(order.downloads.select_related("file")) if order else [],
        "gives_codes": gives_codes(list(version.items.values())),
        "mark": request.GET.urlencode(),
        "access_off": order is not None and is_access_off(order),
        "payments_path": payments_path(checkout.reference) if hasattr(checkout, "agreement") else "",
        "documents": list(order.documents.all()) if order else [],
        "may_ask_for_invoice": order is not None and may_ask(order),
        **_what_follows(version, order, number_locale(request)),
    }


def _what_follows(version: ShownVersion, order: Order | None, locale: str) -> dict[str, str]:
    """What the seller says after paying, and where the buyer goes on to."""
    if order is None:
        return {}
    after, reference = version.content.after, order.checkout.reference
    values = order_values(order.buyer_name, order.title, order.paid, order.number, reference, locale)
    return {
        "message": message_html(after.message, values),
        "onward": onward_of(after.go_to, order.business_id, reference, rehearsal=order.rehearsal),
    }


def _look_of(checkout: Checkout) -> ShownLook:
    """The look that the link has now."""
    link = checkout.line.link
    shown = shown_draft(link) if checkout.rehearsal else shown_to_buyers(link)
    return shown.look if shown else ShownLook()


def _checkout(reference: str) -> Checkout:
    return get_object_or_404(Checkout.objects.select_related("business"), reference=_plain(reference))


def _is_email_of(checkout: Checkout, typed: str) -> bool:
    return buyer_key(typed) == checkout.buyer_key


def _plain(reference: str) -> str:
    """A reference however it was written down."""
    return re.sub(r"[\s-]", "", reference).upper()


def _call_off_path(checkout: Checkout) -> str:
    return with_mark(reverse("confirmation:call_off", args=[checkout.reference]), checkout.reference)


def _may_be_called_off(attempt: Attempt, now: datetime) -> bool:
    """Whether nobody has decided it; one whose request may still be on its way is left alone, and so is a promise."""
    is_answered = bool(bank_address(attempt)) or now - attempt.begun_at > CUT_OFF_AFTER
    return attempt.state == Attempt.State.PENDING and attempt.awaited_until is None and is_answered
