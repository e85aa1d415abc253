"""The counter's own public pages: its made-up cards, and the page on which a made-up bank asks its customer."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, render
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods, require_safe

from cravik.core.pricing.money import Money
from cravik.payments.counter.deciding import answer_check
from cravik.payments.counter.models import CounterCard, CounterCharge
from cravik.payments.gateway import DeclineReason
from cravik.ui.framing import framed_by_ourselves, keep_opener

_ANSWERS = {"yes": None, "no": DeclineReason.CHECK_FAILED, "leave": DeclineReason.CHECK_GIVEN_UP}


@require_safe
def cards(request: HttpRequest) -> HttpResponse:
    return render(request, "counter/cards.html", {"cards": CounterCard.objects.all()})


@csrf_exempt  # whoever has the address may answer; no cookie is asked for
@require_http_methods(["GET", "HEAD", "POST"])
@framed_by_ourselves
def bank(request: HttpRequest, reference: str) -> HttpResponse:
    """The bank's question. However it is answered, it leads back to the seller's page, and is asked once."""
    charge = get_object_or_404(CounterCharge, reference=reference, check_wanted=True)
    if request.method == "POST":
        answer = request.POST.get("answer", "")
        if answer not in _ANSWERS:
            raise Http404
        answer_check(reference, _ANSWERS[answer], timezone.now())
    elif charge.outcome == CounterCharge.Outcome.OPEN:
        context = {"charge": charge, "amount": Money(charge.amount_minor, charge.currency)}
        response = render(request, "counter/bank.html", context)
        response["Cache-Control"] = "private, no-store"
        keep_opener(response)
        return response
    back = HttpResponseRedirect(charge.return_address)
    back.status_code = 303
    keep_opener(back)
    return back
