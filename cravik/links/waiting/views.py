"""Who waits for a link, and the letter to all of them."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.core.english import counted
from cravik.links.access import link_or_404
from cravik.links.waiting.tasks import write_to_waiting
from cravik.links.waiting.waiters import forget, is_buyable, letter_to_waiting, write_to_all
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id
from cravik.upkeep.queue import enqueue_once

_PAGE = 100


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.ORDERS)
def waiting(request: SellerRequest, link_id: int) -> HttpResponse:
    """The addresses, and the letter as it goes out. A post writes to all of them, or takes one away."""
    link, now = link_or_404(request, link_id), timezone.now()
    if request.method == "POST" and "forget" in request.POST:
        if forget(link, parse_id(request.POST["forget"]), timezone.now(), by=request.by):
            messages.success(request, "Removed. That address gets no message.")
        return redirect("links:waiting", link.pk)
    if request.method == "POST" and link.version_id:
        if many := write_to_all(link, now, by=request.by):
            enqueue_once(write_to_waiting)
            messages.success(
                request, f"{counted(many, 'letter is', 'letters are')} on the way. The Mailroom keeps them."
            )
        else:
            messages.warning(request, "Everyone who was waiting is already being written to.")
        return redirect("links:waiting", link.pk)
    rows = Paginator(link.waiting.confirmed().filter(due_at=None), _PAGE).get_page(request.GET.get("page"))
    context = {
        "link": link,
        "page": rows,
        "due": link.waiting.exclude(due_at=None).count(),
        "letter": letter_to_waiting(link) if link.version_id else None,
        "is_buyable": is_buyable(link, now),
    }
    return render(request, "links/waiting.html", context)
