"""The confirmation that a buyer returns to, and the seller's orders."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseBase, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from cravik.catalogue.digital_goods import file_path, gives_codes
from cravik.checkout.models import Checkout
from cravik.checkout.number_format import number_locale
from cravik.core.text.money_text import DEFAULT_LOCALE
from cravik.journal.visitors import visitor_mark
from cravik.links.effective import effective_draft, effective_edition, shown_to_buyers
from cravik.orders.downloads import DownloadOver, count_download, download_of, open_again
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.models import PARTS, Order
from cravik.orders.paying.reconcile import reconcile
from cravik.orders.queries import orders_of
from cravik.payments.gateways import present_gateway
from cravik.payments.models import Attempt
from cravik.payments.services import CUT_OFF_AFTER
from cravik.setup.access import SellerRequest, seller_page
from cravik.setup.looks import Look
from cravik.ui.file_ranges import file_response
from cravik.ui.framing import framed_by_ourselves
from cravik.ui.spreadsheets import as_text, csv_response
from cravik.upkeep.queue import enqueue_once

_PAGE = 50


@require_safe
@framed_by_ourselves
def confirmation(request: HttpRequest, reference: str) -> HttpResponse:
    """What became of a payment. The address is known to its buyer alone."""
    checkout = get_object_or_404(
        Checkout.objects.select_related("business"), reference=reference.upper().replace("-", "")
    )
    now = timezone.now()
    attempt = Attempt.objects.filter(due__checkout=checkout).order_by("-begun_at", "-id").first()
    if attempt and attempt.state == Attempt.State.PENDING and now - attempt.begun_at > CUT_OFF_AFTER:
        reconcile(present_gateway(), now - CUT_OFF_AFTER, now)
        attempt.refresh_from_db()
    order = Order.objects.filter(checkout=checkout).with_paid().prefetch_related(*PARTS).first()
    if attempt is None and order is None:
        raise Http404
    terms = effective_edition(checkout.line.edition_id)
    context = {
        "checkout": checkout,
        "attempt": attempt,
        "order": order,
        "terms": terms,
        "downloads": list(order.downloads.select_related("file")) if order else [],
        "gives_codes": gives_codes(list(terms.items.values())),
        "now": now,
        "number_locale": number_locale(request),
        "look": _look_of(checkout),
    }
    is_pending = order is None and attempt is not None and attempt.state == Attempt.State.PENDING
    template = "confirmation" if order else "pending" if is_pending else "not_paid"
    with timezone.override(checkout.business.time_zone):
        response = render(request, f"orders/{template}.html", context)
    response["Cache-Control"] = "private, no-cache"
    response["X-Robots-Tag"] = "noindex"
    response["X-Answered"] = "no" if is_pending else "yes"  # the waiting page asks
    return response


@require_safe
def download(request: HttpRequest, key: str) -> HttpResponseBase:
    """Send the file, or the range asked for, to the buyer who has its address. A HEAD request does not count, nor does
    a missing file."""
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
        return render(request, "orders/download_over.html", context, status=410)
    response = file_response(request, path, found.file.title)
    # Whatever it is, it is not shown, run or framed as a page of ours.
    response["Content-Type"] = "application/octet-stream"
    response["Cache-Control"] = "private, no-store"
    response["X-Robots-Tag"] = "noindex"
    return response


@require_POST
@seller_page
def open_downloads_again(request: SellerRequest, order_id: int) -> HttpResponse:
    """Give the buyer the full time and number of downloads again."""
    order = get_object_or_404(Order.objects.of(request.business), id=order_id)
    open_again(order, timezone.now())
    messages.success(request, "The buyer can take the files for another 30 days, at the same address.")
    return redirect("orders:order", order.pk)


def _look_of(checkout: Checkout) -> Look:
    """The look that the link has now."""
    link = checkout.line.link
    shown = effective_draft(link) if checkout.rehearsal else shown_to_buyers(link)
    return shown.look if shown else Look()


@require_safe
@seller_page
def orders(request: SellerRequest) -> HttpResponse:
    search, rehearsals = _filters(request)
    found = orders_of(request.business, search, rehearsals=rehearsals)
    context = {
        "page": Paginator(found, _PAGE).get_page(request.GET.get("page")),
        "search": search,
        "rehearsals": rehearsals,
        "rehearsal_count": Order.objects.of(request.business).filter(rehearsal=True).count(),
    }
    return render(request, "orders/orders.html", context)


@require_safe
@seller_page
def order(request: SellerRequest, order_id: int) -> HttpResponse:
    orders = Order.objects.of(request.business).select_related("checkout", "link", "spot").with_paid()
    found = get_object_or_404(orders.prefetch_related(*PARTS), id=order_id)
    return render(request, "orders/order.html", {"order": found, "number_locale": DEFAULT_LOCALE})


@require_POST
@seller_page
def write_letters(request: SellerRequest, order_id: int) -> HttpResponse:
    """Try again to write the letters of an order, where that failed."""
    found = get_object_or_404(Order.objects.of(request.business), id=order_id)
    Order.objects.filter(id=found.pk, letters_due=True).update(letters_tries=0)
    enqueue_once(write_due_letters)
    messages.success(request, "They are being written.")
    return redirect("orders:order", found.pk)


@require_safe
@seller_page
def orders_file(request: SellerRequest) -> StreamingHttpResponse:
    """The orders that the list shows, as CSV (RFC 4180), in the order of the list."""
    search, rehearsals = _filters(request)
    orders = orders_of(request.business, search, rehearsals=rehearsals).select_related("link", "checkout", "spot")
    found = orders.prefetch_related("checkout__lines").iterator(chunk_size=500)
    head = ["number", "paid_at", "link", "title", "buyer_name", "buyer_email", "currency", "total", "reference"]
    head += ["options", "delivery", "tax", "country", "send_to", "tax_number", "paid", "spot"]
    rows = (
        [
            order.number,
            order.paid_at.isoformat(timespec="seconds"),
            *map(as_text, (order.link.name, order.title, order.buyer_name, order.buyer_email)),
            order.currency,
            order.checkout.total.major,
            order.checkout.reference,
            as_text("; ".join(options for _, options in order.checkout.line.picked)),
            order.checkout.line.quote_document["delivery"],
            order.checkout.line.quote_document["tax"],
            order.checkout.where.get("country", ""),
            as_text(", ".join(filter(None, order.checkout.address_lines))),
            as_text(order.checkout.where.get("tax_number", "")),
            order.paid.major,
            as_text(order.spot.name),
        ]
        for order in found
    )
    return csv_response("orders.csv", head, rows)


def _filters(request: HttpRequest) -> tuple[str, bool]:
    return request.GET.get("q", "").strip()[:100], request.GET.get("rehearsals") == "yes"
