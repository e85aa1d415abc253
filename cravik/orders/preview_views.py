"""What a buyer sees after paying, shown to the seller from the draft with made-up details. Nothing is kept."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from cravik.catalogue.digital_goods import gives_codes
from cravik.catalogue.models import ItemFile
from cravik.checkout.models import Checkout, CheckoutLine
from cravik.checkout.number_format import number_locale
from cravik.checkout.page_token import rehearsal_token
from cravik.checkout.pages.page import Page, offered_at, page_of
from cravik.checkout.rehearsing import opened_draft
from cravik.core.documents.quote import write_kept_quote
from cravik.core.pricing.money import Money
from cravik.core.pricing.quote import Quote
from cravik.core.text.faults import gap_words
from cravik.links.access import link_or_404
from cravik.links.places.onward import onward_of
from cravik.orders.after_paying import message_html, order_values
from cravik.orders.downloads import MAX_DOWNLOADS, OPEN_FOR
from cravik.orders.models import Download
from cravik.payments.models import Attempt
from cravik.payments.ways.card import ENDING
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.ways import CARD
from cravik.ui.framing import framed_by_ourselves

_BUYER, _EMAIL, _REFERENCE, _CARD = "Maren Vetch", "maren@dunes.example", "SAMPLE", "0019"
_WHERE = {"street": "2 Strand Lane", "town": "Marramport"}


@require_safe
@seller_page(Permission.SEE)
@framed_by_ourselves
def after_paying(request: SellerRequest, link_id: int) -> HttpResponse:
    """The page after paying for what stands on the draft's page at first."""
    link = link_or_404(request, link_id)
    opened, now, locale = opened_draft(link), timezone.now(), number_locale(request)
    if opened.version is None:
        return render(request, "checkout/gaps.html", {"link": link, "gaps": [gap_words(gap) for gap in link.gaps]})
    token = rehearsal_token(link.pk, link.revision, now)
    page = page_of(opened, offered_at(opened, opened.version, now, locale), token, "")
    if page.slip is None:
        return render(request, "orders/no_sum_yet.html", {"look": page.look})
    checkout, after = _checkout(page, page.slip, request), page.version.content.after
    values = order_values(_BUYER, page.offer.title, page.slip.due_now, 1, _REFERENCE, locale)
    context: dict[str, Any] = {
        "checkout": checkout,
        "order": {
            "buyer_name": _BUYER,
            "buyer_email": _EMAIL,
            "paid": page.slip.due_now,
            "title": page.offer.title,
            "rehearsal": True,
            "number": 1,
            "paid_at": now,
            "was_paid": bool(page.slip.due_now),
            "attempt": _attempt(page.slip.due_now) if page.slip.due_now else None,
        },
        "own": True,
        "sample": True,
        "message": message_html(after.message, values),
        "onward": onward_of(after.go_to, request.business.pk, _REFERENCE, rehearsal=True),
        "version": page.version,
        "downloads": _downloads(page),
        "gives_codes": gives_codes(list(page.version.items.values())),
        "now": now,
        "number_locale": locale,
        "look": page.look,
    }
    with timezone.override(link.business.time_zone):
        return render(request, "orders/confirmation.html", context)


def _attempt(amount: Money) -> Attempt:
    """A charge as a buyer's would be, never kept."""
    return Attempt(way=CARD, details={ENDING: _CARD}, amount_minor=amount.minor, currency=amount.currency)


def _checkout(page: Page, slip: Quote, request: SellerRequest) -> Checkout:
    """The checkout as a buyer's would be, never kept."""
    agreed = page.version.agreed
    checkout = Checkout(
        business=request.business,
        reference=_REFERENCE,
        rehearsal=True,
        total_minor=slip.total.minor,
        currency=slip.currency,
        buyer_name=_BUYER,
        buyer_email=_EMAIL,
        where=_WHERE | ({"country": page.country} if page.country else {}) if page.sends else {},
        agreed_to_id=agreed.version_id if agreed else None,
        own_contact=dict(page.version.own_contact),
    )
    checkout.line = CheckoutLine(checkout=checkout, quote_document=write_kept_quote(slip))
    return checkout


def _downloads(page: Page) -> list[Download]:
    """What would be handed over, under no address."""
    files = ItemFile.objects.filter(item_id__in=page.version.items.values(), archived=False)
    return [Download(file=file, key="sample", most=MAX_DOWNLOADS, until=page.at + OPEN_FOR) for file in files]
