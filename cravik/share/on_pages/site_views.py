"""On which sites links may open: for all links, in Setup, and for one, where it is handed out."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.core.link.sites import LOCAL, site_in
from cravik.links.access import link_or_404
from cravik.links.models import Link
from cravik.links.places.sites import MAX_SITES, TooManySites, allow_site, forbid_site, named_sites
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.share.forms import first_fault
from cravik.share.on_pages.forms import SiteForm
from cravik.share.on_pages.sightings import refuse

#: What is said besides when the first site is named.
FIRST = " Pages on your own computer may not any more: to keep trying there, add localhost."


def sites_words(count: int) -> str:
    """What Setup says of the sites that are named."""
    return f"{count} site{'s' if count > 1 else ''} on which links may open" if count else "None is named yet"


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def sites(request: SellerRequest) -> HttpResponse:
    """Those for all links; a post names one, or takes one away."""
    form = SiteForm(request.POST or None) if "remove" not in request.POST else SiteForm()
    if request.method == "POST" and _act(request, None, form):
        return redirect("share_setup:sites")
    context = {"form": form, "sites": named_sites(request.business), "local": LOCAL, "most": MAX_SITES}
    return render(request, "share/on_pages/sites.html", context, status=400 if form.errors else 200)


@require_POST
@seller_page(Permission.MAKE)
def link_sites(request: SellerRequest, link_id: int) -> HttpResponse:
    """Name a site for one link or, with ``for_all``, for all of them; take one away, or ``refuse`` one that asked."""
    link = link_or_404(request, link_id)
    if "refuse" in request.POST:
        refuse(link, request.POST["refuse"])
        messages.success(request, "Noted. The button there stays a plain link.")
        return redirect("share:hand_out", link.pk)
    form = SiteForm(request.POST)
    if not _act(request, None if "for_all" in request.POST else link, form):
        messages.error(request, f"Not added. {first_fault(form)}")
    return redirect(f"{reverse('share:hand_out', args=[link.pk])}#sites")


def _act(request: SellerRequest, link: Link | None, form: SiteForm) -> bool:
    """Whether it could be done; what is wrong stands at the field."""
    if "remove" in request.POST:
        host = site_in(request.POST["remove"])
        forbid_site(request.business, link, host, timezone.now(), by=request.by)
        messages.success(request, f"Removed. On {host}, its button is a plain link from now on.")
        return True
    if not form.is_valid():
        return False
    host = form.cleaned_data["site"]
    try:
        was_trying = allow_site(
            request.business, link, host, timezone.now(), subdomains=form.cleaned_data["subdomains"], by=request.by
        )
    except TooManySites as refused:
        form.add_error("site", str(refused))
        return False
    whose = f"“{link.name}” may open there" if link else "Your links may open there"
    messages.success(request, f"{host}, with and without www: {whose} from now on.{FIRST if was_trying else ''}")
    return True
