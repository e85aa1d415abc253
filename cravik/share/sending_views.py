"""Sending a link: the message of a channel, made when it is first used."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.links.access import link_or_404
from cravik.links.places.spots import TooManySpots
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.share.sending import CHANNELS, NothingToSend, made_message, messages_ready


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def send(request: SellerRequest, link_id: int, channel: str) -> HttpResponse:
    """The message, to be opened or copied. A post makes its spot; the page's script is answered in JSON."""
    link = link_or_404(request, link_id)
    if channel not in CHANNELS:
        raise Http404
    is_script = request.headers.get("Accept") == "application/json"
    if request.method == "POST":
        try:
            message = made_message(link, CHANNELS[channel], timezone.now(), by=request.by)
        except (NothingToSend, TooManySpots) as refused:
            says = str(refused) or "Publish the link first: there is nothing to send yet."
            if is_script:
                return JsonResponse({"refused": says}, status=409)
            messages.warning(request, says)
            return redirect("share:hand_out", link.pk)
        if is_script:
            return JsonResponse({"subject": message.subject, "text": message.text, "opens": message.opens})
        return redirect("share:send", link.pk, channel)
    ready = messages_ready(link).get(channel)
    if ready is None:
        return redirect("share:hand_out", link.pk)
    context = {"link": link, "channel": CHANNELS[channel], "message": ready}
    return render(request, "share/message.html", context)
