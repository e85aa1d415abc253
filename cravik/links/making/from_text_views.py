"""New links by a line in which the seller says what they sell."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.core.text.said.examples import OF_OFFERS
from cravik.links.life import lifecycle
from cravik.links.making.examples import examples_for
from cravik.links.making.forms import OfferForm
from cravik.links.making.from_text import MAX_READ, ParsedLink, lines_in, make_from_lines, read_lines
from cravik.links.models import Link
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission

MAX_TEXT = 40_000
#: Where a session keeps the lines of which nothing was made.
REST = "said_rest"


@require_POST
@seller_page(Permission.MAKE)
def understood(request: SellerRequest) -> HttpResponse:
    """How what is typed is understood, while it is typed."""
    text = request.POST.get("said", "")[:MAX_TEXT]
    parsed = read_lines(request.business, text, timezone.now())
    shown = parsed[0].text if len(parsed) == 1 and parsed[0].is_understood and parsed[0].effective else ""
    html = render_to_string("links/_understood.html", {**_shown(parsed, text), "live": True}, request)
    return JsonResponse({"html": html, "text": shown})


@require_POST
@seller_page(Permission.MAKE)
def say(request: SellerRequest) -> HttpResponse:
    """Make the links that the lines say: one at once, several after a look at them."""
    text = request.POST.get("said", "")[:MAX_TEXT]
    if instead := request.POST.get("instead"):
        return show_new(request, text := _with_answer(text, instead), _read(request, text))
    parsed = _read(request, text)
    good = [each for each in parsed if each.is_understood]
    if not good:
        return show_new(request, text, parsed, 400)
    if len(parsed) > 1 and not request.POST.get("looked"):
        return show_new(request, text, parsed, 200)
    made = make_from_lines(good, timezone.now(), by=request.by)
    if len(parsed) > 1:
        rest = [each.text for each in parsed if not each.is_understood] + lines_in(text)[MAX_READ:]
        messages.success(request, f"{len(made)} drafts are made. Nobody sees them until you publish them.")
        if not rest:
            return redirect("results:links")
        request.session[REST] = "\n".join(rest)  # a reload of what was sent would make the others twice
        return redirect("links:new")
    return _publish(request, made[0]) if request.POST.get("publish") else _to_bench(request, made[0])


def _read(request: SellerRequest, text: str) -> list[ParsedLink]:
    return read_lines(request.business, text, timezone.now())


def _with_answer(text: str, instead: str) -> str:
    """The lines with the one that answers a question in its line's place; ``instead`` is its number and the line."""
    number, _, line = instead[:MAX_TEXT].partition(" ")
    lines = lines_in(text)
    if number.isascii() and number.isdigit() and int(number[:6]) < len(lines) and line.strip():
        lines[int(number[:6])] = " ".join(line.split())
    return "\n".join(lines)


def _to_bench(request: SellerRequest, link: Link) -> HttpResponse:
    messages.success(request, "Draft ready. Nobody sees it until you publish.")
    return redirect("links:bench", link.pk)


def _publish(request: SellerRequest, link: Link) -> HttpResponse:
    try:
        lifecycle.publish(link, timezone.now(), by=request.by)
    except lifecycle.NotReady as refusal:
        messages.warning(request, f"Draft ready. It is not published: {refusal}")
        return redirect("links:bench", link.pk)
    messages.success(request, "Published. This is what buyers see now.")
    return redirect("share:hand_out", link.pk)


def _shown(parsed: list[ParsedLink], text: str) -> dict[str, object]:
    """What is told of the lines: each as it was understood, of how many a link can be made, and how many are unread."""
    return {
        "said": parsed,
        "can_make": sum(each.is_understood for each in parsed),
        "unread": len(lines_in(text)) - len(parsed),
    }


def show_new(
    request: SellerRequest, text: str = "", parsed: list[ParsedLink] | None = None, status: int = 200, **more: object
) -> HttpResponse:
    """The page for a new link, with what was said so far."""
    parsed = parsed or []
    context = {
        "text": text,
        **_shown(parsed, text),
        "say_examples": OF_OFFERS,
        "examples": examples_for(request.business, timezone.now()),
        "starting_points": Link.objects.of(request.business)
        .filter(is_starting_point=True, archived_at=None)
        .order_by("name"),
        "form": OfferForm(initial={"currency": request.business.currency}),
        **more,
    }
    return render(request, "links/new.html", context, status=status)
