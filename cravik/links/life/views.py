"""What becomes of a link: published, paused, resumed, ended, archived or removed."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.catalogue.digital_goods import downloads_without_goods
from cravik.links.access import link_or_404
from cravik.links.life import archiving, lifecycle
from cravik.links.life.versions import unpublished_changes
from cravik.links.models import items_of_draft
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.timings import lasting

#: So many changes are told by the message after publishing; the list of versions tells all.
_TOLD = 6
_STEPS = {
    "pause": (lifecycle.pause, "Paused. Anyone who had the page open may still finish within {}."),
    "resume": (lifecycle.resume, "Live again."),
    "end": (lifecycle.end, "Ended. Anyone who had the page open may still finish within {}."),
}


@require_POST
@seller_page(Permission.MAKE)
def publish(request: SellerRequest, link_id: int) -> HttpResponse:
    """Let buyers see the draft; what is missing leads back to where it is decided."""
    link = link_or_404(request, link_id)
    lacking = downloads_without_goods([item.pk for item in items_of_draft(link).values()])
    if lacking and request.POST.get("lacking") != "yes":
        return render(request, "links/lacking.html", {"link": link, "lacking": lacking}, status=409)
    changes = unpublished_changes(link)
    try:
        lifecycle.publish(link, timezone.now(), by=request.by)
    except lifecycle.NotReady:
        messages.warning(request, "Not published yet. What stands in the way is listed on this page.")
        return redirect(f"{reverse('links:bench', args=[link.pk])}#missing")
    except lifecycle.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    more = f"; and {len(changes) - _TOLD} more" if len(changes) > _TOLD else ""
    changed = f" Changed: {'; '.join(changes[:_TOLD])}{more}." if changes else ""
    messages.success(request, f"Published. This is what buyers see now.{changed}")
    return redirect("share:hand_out", link.id)


@require_POST
@seller_page(Permission.MAKE)
def step(request: SellerRequest, link_id: int, name: str) -> HttpResponse:
    """Pause, resume or end the link."""
    link = link_or_404(request, link_id)
    act, done = _STEPS[name]
    try:
        act(link, timezone.now(), by=request.by)
    except lifecycle.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    messages.success(request, done.format(lasting("price_promised")))
    return redirect("share:hand_out" if name == "resume" else "links:bench", link.id)


@require_POST
@seller_page(Permission.MAKE)
def archive(request: SellerRequest, link_id: int) -> HttpResponse:
    """Remove a link that nobody ever paid, and archive any other."""
    link = link_or_404(request, link_id)
    try:
        archiving.remove(link, timezone.now(), by=request.by)
    except archiving.BeingPaid:
        messages.warning(
            request,
            f"Somebody is paying for it at this moment. Pause it, and try again in {lasting('held_while_paying')}.",
        )
        return redirect("links:bench", link.pk)
    except lifecycle.NotInThatState:
        archiving.archive(link, timezone.now(), by=request.by)
        messages.success(request, f"“{link.name}” is archived. Its orders and results stay; you can restore it.")
    else:
        messages.success(request, f"“{link.name}” is removed.")
    return redirect("results:links")


@require_POST
@seller_page(Permission.MAKE)
def unarchive(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    archiving.unarchive(link, timezone.now(), by=request.by)
    messages.success(request, "It is back in the list. Resume it, and buyers can pay again.")
    return redirect("links:bench", link.pk)
