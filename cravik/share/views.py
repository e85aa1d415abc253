"""Handing a link out."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.views.decorators.clickjacking import xframe_options_sameorigin
from django.views.decorators.http import require_safe

from cravik.core.text.price_words import price_in_words
from cravik.links.access import link_or_404
from cravik.links.effective import shown_to_buyers
from cravik.links.models import Link
from cravik.setup.access import SellerRequest, seller_page
from cravik.share.button import Button, plain_button
from cravik.share.qr import qr_png, qr_svg
from cravik.ui.addresses import absolute


@require_safe
@seller_page
def hand_out(request: SellerRequest, link_id: int) -> HttpResponse:
    """The address to copy, the QR code and the button."""
    link = link_or_404(request, link_id)
    spots = [(spot, absolute(spot.path)) for spot in link.spots.all()]
    shown = shown_to_buyers(link)
    price = price_in_words(shown.offer) if shown else ""
    context = {"link": link, "price": price, "address": absolute(link.path), "button": _button(link), "spots": spots}
    return render(request, "share/hand_out.html", context)


@require_safe
@seller_page
def qr_picture(request: SellerRequest, link_id: int, kind: str) -> HttpResponse:
    """The QR code as a file: ``svg`` or ``png``; with ``?download`` it is saved, not shown."""
    link = link_or_404(request, link_id)
    address = absolute(link.path)
    response = (
        HttpResponse(qr_svg(address), content_type="image/svg+xml")
        if kind == "svg"
        else HttpResponse(qr_png(address), content_type="image/png")
    )
    if "download" in request.GET:
        response["Content-Disposition"] = f'attachment; filename="{link.slug}-qr.{kind}"'
    return response


@require_safe
@xframe_options_sameorigin
@seller_page
def button_preview(request: SellerRequest, link_id: int) -> HttpResponse:
    """The button alone on white, as another site would show it.

    Its style attribute is allowed by its hash: this page shows exactly what is pasted.
    """
    link = link_or_404(request, link_id)
    button = _button(link)
    if button is None:
        raise Http404
    response = render(request, "share/button_preview.html", {"button": button})
    response._csp_replace = {  # type: ignore[attr-defined]  # django-csp's own hook
        "style-src": ["'self'", "'unsafe-hashes'", button.style_hash],
        "frame-ancestors": ["'self'"],
    }
    return response


def _button(link: Link) -> Button | None:
    """The button for what buyers see of the link; none while its draft is not finished."""
    shown = shown_to_buyers(link)
    return plain_button(shown.offer, absolute(link.path)) if shown else None
