"""One page for each subject that is decided once for all links."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.core.documents.defaults import write_defaults
from cravik.core.pricing.currency import known_currency
from cravik.core.pricing.defaults import OfferDefaults
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.defaults import DECIDED, Subject, decide, decisions_of
from cravik.setup.saving import ChangedElsewhere
from cravik.setup.sheets import SHEETS
from cravik.setup.sheets.tax import TaxSheet
from cravik.setup.words import TITLES
from cravik.ui.fields import parse_id

CHANGED_ELSEWHERE = (
    "Not saved: this was changed in another tab or by someone else since you opened it."
    " What you typed is still below: copy what you need, then load the page again."
)


def address_of(subject: str) -> str:
    """Where in Setup the subject is decided."""
    if subject == Subject.LOOK:
        return reverse("setup:looks")
    if subject == Subject.TERMS:
        return reverse("setup:all_terms")
    if subject == Subject.CONTACT:
        return reverse("setup:business")
    return reverse("setup:decision", args=[subject])


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def decision(request: SellerRequest, subject: str) -> HttpResponse:
    """What holds of the subject for every link that decides nothing itself."""
    if subject not in DECIDED:
        raise Http404
    effective = decisions_of(request.business)[subject]
    revision = effective.revision
    posted = request.method == "POST"
    sheet = SHEETS[subject](request.POST if posted else None, effective.document, request.business)
    status = 200
    if posted:
        revision = parse_id(request.POST.get("seen", ""))
        status = 400
        if sheet.is_valid():
            try:
                decide(request.business, subject, sheet.document, revision, timezone.now(), by=request.by)
            except ChangedElsewhere:
                status = 409
                messages.error(request, CHANGED_ELSEWHERE)
            else:
                messages.success(request, "Saved. Drafts use it at once.")
                return redirect("setup:decision", subject)
    context = {
        "sheet": sheet,
        "subject": subject,
        "title": TITLES[subject],
        "seen": revision,
        "is_made": effective.is_made,
    }
    return render(request, "setup/decision.html", context, status=status)


@require_POST
@seller_page(Permission.SETUP)
def example_of_tax(request: SellerRequest) -> HttpResponse:
    """A sale under the rates as they are being typed; 204 while they cannot be read."""
    wanted = known_currency(request.POST.get("in", "")) or request.business.currency
    empty = write_defaults(OfferDefaults(wanted))
    sheet = TaxSheet(request.POST, empty, request.business, wanted)
    if not sheet.is_valid():
        return HttpResponse(status=204)
    return render(request, "setup/sheets/_tax_example.html", {"example": sheet.example})
