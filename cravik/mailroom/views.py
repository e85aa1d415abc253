"""The mailroom's pages."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.clickjacking import xframe_options_sameorigin
from django.views.decorators.http import require_POST, require_safe

from cravik.mailroom.models import Letter
from cravik.mailroom.queries import letters_for, letters_of
from cravik.mailroom.services import message_of, send_again
from cravik.mailroom.tasks import deliver_waiting_letters
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.letters import letter_response
from cravik.upkeep.queue import enqueue_once


@require_safe
@seller_page(Permission.ORDERS)
def letters(request: SellerRequest) -> HttpResponse:
    search, parked = request.GET.get("q", "").strip()[:100], request.GET.get("state") == Letter.State.PARKED
    page = Paginator(letters_of(request.user, request.business, search, parked=parked), 50).get_page(
        request.GET.get("page")
    )
    context = {
        "page": page,
        "search": search,
        "parked": parked,
        "how_many_parked": letters_of(request.user, request.business, parked=True).count(),
    }
    return render(request, "mailroom/letters.html", context)


@require_safe
@seller_page(Permission.ORDERS)
def letter(request: SellerRequest, letter_id: int) -> HttpResponse:
    found = get_object_or_404(letters_for(request.user, request.business), id=letter_id)
    others = letters_for(request.user, request.business).order_by("id")
    neighbours = {"newer": others.filter(id__gt=found.pk).first(), "older": others.filter(id__lt=found.pk).last()}
    paths = {name: reverse("mailroom:letter", args=[each.pk]) for name, each in neighbours.items() if each}
    return render(request, "mailroom/letter.html", {"letter": found, **paths})


@require_POST
@seller_page(Permission.ORDERS)
def again(request: SellerRequest, letter_id: int) -> HttpResponse:
    """Try a letter again that could not be sent."""
    found = get_object_or_404(letters_for(request.user, request.business), id=letter_id)
    send_again(found)
    enqueue_once(deliver_waiting_letters)
    messages.success(request, "It is being sent again.")
    return redirect("mailroom:letter", found.pk)


@require_safe
@xframe_options_sameorigin
@seller_page(Permission.ORDERS)
def letter_body(request: SellerRequest, letter_id: int) -> HttpResponse:
    """The letter as the reader's mail program shows it, alone in a frame."""
    found = get_object_or_404(letters_for(request.user, request.business), id=letter_id)
    return letter_response(found.html)


@require_safe
@seller_page(Permission.ORDERS)
def letter_file(request: SellerRequest, letter_id: int) -> HttpResponse:
    """The sent message as an .eml file (RFC 5322)."""
    found = get_object_or_404(letters_for(request.user, request.business), id=letter_id, sent_at__isnull=False)
    assert found.sent_at is not None  # which the query has said
    return HttpResponse(
        message_of(found, found.sent_at).message().as_bytes(),
        content_type="message/rfc822",
        headers={"Content-Disposition": f'attachment; filename="letter-{found.id}.eml"'},
    )
