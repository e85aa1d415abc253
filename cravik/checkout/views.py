"""The buyer's page, its rehearsal, and the note that somebody began to fill it in."""

from __future__ import annotations

from csp.decorators import csp_replace
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.clickjacking import xframe_options_sameorigin
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST, require_safe

from cravik.catalogue.stock import is_sold_out, sold_out_options
from cravik.checkout.choosing import Choosing
from cravik.checkout.number_format import number_locale
from cravik.checkout.page import Display, Goods, Page, Seller, show_closed, show_live_page, show_page
from cravik.checkout.page_token import TokenRefused, new_token, read_token
from cravik.core.ladder import Rung
from cravik.journal.services import climb, open_visit
from cravik.journal.visitors import is_robot, visitor_mark
from cravik.links.models import Edition, Link
from cravik.links.queries import address_at, live_page_at
from cravik.links.views import link_or_404
from cravik.setup.access import SellerRequest, acts_for, seller_page


@require_safe
def page(request: HttpRequest, slug: str) -> HttpResponse:
    """What a link shows to whoever opens its address."""
    live = live_page_at(slug)
    if live is None:
        return _no_live_page(request, slug)
    if is_sold_out(live.item_id) and (address := address_at(slug)):
        return show_closed(request, address.link, sold_out=True)
    now = timezone.now()
    visit_id = None
    if not is_robot(request) and not acts_for(request, live.business_id):
        visit_id = open_visit(live.business_id, live.link_id, visitor_mark(request, now.date()), now)
    token = new_token(live.link_id, live.edition_id, 0, rehearsal=False, visit_id=visit_id, now=now)
    return show_live_page(request, live, token)


def _no_live_page(request: HttpRequest, slug: str) -> HttpResponse:
    """A former address leads to the present one; a link that takes no payments says so."""
    address = address_at(slug)
    if address is None:
        raise Http404
    if not address.current:
        return redirect(address.link.path)
    return show_closed(request, address.link)


@require_safe
@seller_page
@xframe_options_sameorigin
@csp_replace({"frame-ancestors": ["'self'"]})
def rehearsal(request: SellerRequest, link_id: int) -> HttpResponse:
    """The very page of the draft, for its seller alone; what is paid here counts nowhere."""
    link = link_or_404(request, link_id)
    token = new_token(link.id, None, link.revision, rehearsal=True, visit_id=None, now=timezone.now())
    action = reverse("pay:rehearsal", args=[link.pk])
    on = token.day_in(link.business.time_zone)
    seller = Seller.of(link.business, link.setting)
    display = Display.of(link.words, link.setting, Goods.of(link.item_id))
    choosing = Choosing(link.offer, seller.country, display.goods.sold_out)
    page = Page(seller, link.offer, display, on, token.signed(), action, rehearsal=True, choosing=choosing)
    return show_page(request, page)


@csrf_exempt  # reckons and writes nothing
@require_POST
def slip(request: HttpRequest) -> HttpResponse:
    """What an open page would cost at the place that was chosen in it, as the parts of the page that say so."""
    try:
        token = read_token(request.POST.get("page", ""))
    except TokenRefused:
        return HttpResponse(status=400)
    link = Link.objects.select_related("business", "edition").filter(id=token.link_id).first()
    edition = Edition.objects.filter(id=token.edition_id, link_id=token.link_id).first()
    if link is None or (edition is None and not token.rehearsal):
        return HttpResponse(status=400)
    business = link.business
    offer = edition.offer if edition else link.offer
    setting = edition.setting if edition else link.setting
    choosing = Choosing(offer, business.country, sold_out_options(link.item_id), initial=request.POST.dict())
    on = token.day_in(business.time_zone)
    page = Page(
        Seller.of(business, setting), offer, Display(), on, "", "", rehearsal=token.rehearsal, choosing=choosing
    )
    context = {"page": page, "number_locale": number_locale(request)}
    parts = ("slip", "asks", "note", "region", "total", "button", "gone")
    answer = {part: render_to_string(f"checkout/_{part}.html", context) for part in parts}
    response = JsonResponse(answer | {"seen_total": page.slip.total.major})
    response["Cache-Control"] = "no-store"
    return response


@csrf_exempt  # a note about a page, by its own signed token; nobody's authority is used
@require_POST
def started(request: HttpRequest) -> HttpResponse:
    """The page's script says that somebody began to fill it in."""
    try:
        token = read_token(request.POST.get("page", ""))
    except TokenRefused:
        return HttpResponse(status=400)
    if token.visit_id and not token.rehearsal:
        climb(token.visit_id, token.link_id, Rung.STARTED, timezone.now())
    return HttpResponse(status=204)
