"""What a link has from Setup, and what it decides itself."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.links.access import link_or_404
from cravik.links.bench.saving import change_part
from cravik.links.life import from_setup
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE, address_of
from cravik.setup.defaults import defaults_of
from cravik.setup.saving import ChangedElsewhere
from cravik.setup.sheets import SHEETS
from cravik.setup.words import TITLES, default_words
from cravik.ui.fields import parse_id


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def own_setting(request: SellerRequest, link_id: int, subject: str) -> HttpResponse:
    """Whether the link has the default on the subject or settings of its own, and which."""
    link = link_or_404(request, link_id)
    if subject not in SHEETS:
        raise Http404
    defaults = defaults_of(request.business)
    posted = request.method == "POST"
    wants_own = request.POST.get("whose") == "own" if posted else not from_setup.follows(link, subject)
    document = from_setup.sheet_document(link, subject, defaults)
    currency = link.draft["offer"]["currency"]
    sheet = SHEETS[subject](request.POST if posted and wants_own else None, document, request.business, currency)
    status = 200
    if posted:
        revision = parse_id(request.POST.get("seen", ""))
        status = 400
        if not wants_own or sheet.is_valid():
            try:
                own = from_setup.own_of_sheet(subject, sheet.document, currency, defaults) if wants_own else None
                change_part(link, subject, own, revision, timezone.now(), by=request.by)
            except ChangedElsewhere:
                status = 409
                messages.error(request, CHANGED_ELSEWHERE)
            else:
                messages.success(request, "Saved in the draft.")
                return redirect(f"{reverse('links:bench', args=[link.pk])}#panel-settings")
    context = {
        "link": link,
        "sheet": sheet,
        "subject": subject,
        "title": TITLES[subject],
        "seen": request.POST.get("seen") if posted else link.revision,
        "wants_own": wants_own,
        "setup_address": address_of(subject),
        "default_words": default_words(request.business, subject, defaults),
    }
    return render(request, "links/own_setting.html", context, status=status)


@require_POST
@seller_page(Permission.SETUP)
def republish(request: SellerRequest, subject: str) -> HttpResponse:
    """Let the published links that were ticked show a default as it is now."""
    if subject not in TITLES:
        raise Http404
    ticked = {parse_id(each) for each in request.POST.getlist("link")}
    changed = from_setup.republish(request.business, subject, ticked, timezone.now(), by=request.by)
    if changed:
        messages.success(request, f"Buyers see it in {changed} link{'' if changed == 1 else 's'} now.")
    else:
        messages.warning(request, "No link was ticked, so none was changed.")
    return redirect(address_of(subject))
