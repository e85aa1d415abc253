"""A buyer's page of payments: what was paid, what comes, paying, the card, and stopping.

Whoever has the mark in its address is its buyer (see ``own_page``). Each act is a POST that leads back to it.
"""

from __future__ import annotations

import re
import secrets
from collections.abc import Callable
from datetime import datetime
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods

from cravik.checkout.declines import decline_words
from cravik.checkout.number_format import number_locale
from cravik.links.life.shown_version import shown_version
from cravik.orders.acts import due_changed
from cravik.orders.acts.plan_changed import answer_proposal
from cravik.orders.acts.plan_ended import last_day_if_stopped, stop
from cravik.orders.acts.plan_paused import NotRunning, pause, resume
from cravik.orders.clock import clock_of, day_of
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.models import Order
from cravik.orders.own_page import is_own, payments_path, private, with_mark
from cravik.orders.paying.reconcile import look_into
from cravik.orders.running.collecting import (
    AboveWhatIsLeft,
    KeyOfAnotherCharge,
    NothingToCollect,
    collect,
    keep_another_card,
)
from cravik.orders.running.payments import Payments, payments_of
from cravik.orders.running.payments_forms import CardForm, PauseForm, PayForm, StopForm
from cravik.payments.dues import DueBeingPaid
from cravik.payments.models import Attempt
from cravik.payments.ways import present_ways
from cravik.payments.ways.card import bank_address
from cravik.people.actors import BUYER
from cravik.ui.see_other import lead_to
from cravik.upkeep.queue import enqueue_once

_REFUSED = "That is no longer possible: something changed meanwhile. This is how it stands now."
_PRESS = re.compile(r"[\w-]{16,40}", re.ASCII)


@csrf_exempt  # the mark in the address says that it is the buyer
@require_http_methods(["GET", "HEAD", "POST"])
def payments(request: HttpRequest, reference: str) -> HttpResponse:
    """All of it; sent, what its buttons do."""
    order = _order(reference)
    if not is_own(request, reference):
        return redirect("confirmation:page", reference)
    shown = _shown(order)
    if shown is None:
        return redirect("confirmation:page", reference)
    if request.method == "POST":
        act = _ACTS.get(request.POST.get("act", ""))
        if act is not None:
            return act(request, shown)
    return _page(request, shown)


@csrf_exempt
@require_http_methods(["GET", "HEAD", "POST"])
def stopping(request: HttpRequest, reference: str) -> HttpResponse:
    """What stopping means, on a page of its own; sent, it is done."""
    order = _order(reference)
    if not is_own(request, reference):
        return redirect("confirmation:page", reference)
    shown = _shown(order)
    if shown is None or not shown.can_stop:
        return lead_to(request, payments_path(reference))
    form = StopForm(request.POST if request.method == "POST" else None)
    at_once = shown.agreement.agreed_rules.stops == "now"
    if form.is_bound and form.is_valid():
        now = clock_of(shown.agreement)()
        try:
            stop(order, now, day_of(order, now), by=BUYER, at_once=at_once, why=form.cleaned_data["why"])
        except NotRunning:
            return _again(request, reference, "refused")
        enqueue_once(write_due_letters)
        return _again(request, reference, "stopped")
    last = last_day_if_stopped(shown.agreement, shown.today, at_once=at_once)
    context = _context(request, shown) | {"form": form, "last": last, "is_today": last <= shown.today}
    return private(render(request, "orders/running/stop.html", context, status=400 if form.is_bound else 200))


def _order(reference: str) -> Order:
    related = ("business", "link", "checkout")
    return get_object_or_404(Order.objects.select_related(*related), checkout__reference=reference)


def _shown(order: Order) -> Payments | None:
    """How it stands now; what is being paid is asked about."""
    found = payments_of(order, day_of(order, timezone.now()))
    if found is None:
        return None
    if found.under_way is not None:
        look_into(found.under_way, present_ways(), clock_of(found.agreement))
    if found.under_way is not None or found.agreement.ahead_days:
        return payments_of(order, day_of(order, clock_of(found.agreement)()))
    return found


def _pay(request: HttpRequest, shown: Payments) -> HttpResponse:
    key, before = _press(request, shown)
    if before is not None:
        return _after(request, shown, before)
    if not (shown.choices or shown.may_pay_more) or request.POST.get("seen") != shown.seen:
        return _again(request, shown.order.checkout.reference, "refused")
    form = PayForm(shown, request.POST)
    if not (form.is_valid() and key):
        return _page(request, shown, pay=form)
    order, positions = shown.order, form.choice.positions
    clock = clock_of(shown.agreement)
    try:
        attempt = collect(order, positions, key, present_ways(), clock, by=BUYER, amount=form.amount, means=form.means)
    except (NothingToCollect, AboveWhatIsLeft, DueBeingPaid, KeyOfAnotherCharge):
        return _again(request, order.checkout.reference, "refused")
    return _after(request, shown, attempt)


def _change_card(request: HttpRequest, shown: Payments) -> HttpResponse:
    key, before = _press(request, shown)
    if before is not None:
        return _after(request, shown, before)
    if not shown.can_change_card:
        return _again(request, shown.order.checkout.reference, "refused")
    form = CardForm(request.POST)
    if not (form.is_valid() and key):
        return _page(request, shown, card=form)
    try:
        attempt = keep_another_card(shown.order, form.means, key, present_ways(), clock_of(shown.agreement))
    except (DueBeingPaid, KeyOfAnotherCharge):
        return _again(request, shown.order.checkout.reference, "refused")
    return _after(request, shown, attempt)


def _press(request: HttpRequest, shown: Payments) -> tuple[str, Attempt | None]:
    """The idempotency key of the press, and what became of it if it was sent before; every page has another, also one
    that is shown again."""
    press = request.POST.get("press", "")
    if not _PRESS.fullmatch(press):
        return "", None
    key = f"own-{shown.order.pk}-{press}"
    return key, Attempt.objects.filter(key=key, checkout=shown.order.checkout_id).first()


def _after(request: HttpRequest, shown: Payments, attempt: Attempt) -> HttpResponse:
    """On to the bank, or back to the page, which says what became of it."""
    enqueue_once(write_due_letters)
    if bank_address(attempt):
        return lead_to(request, bank_address(attempt))
    return _again(request, shown.order.checkout.reference, f"attempt-{attempt.pk}")


def _skip(request: HttpRequest, shown: Payments) -> HttpResponse:
    due = shown.following if shown.can_skip else None
    if due is None or request.POST.get("position") != str(due.position):
        return _again(request, shown.order.checkout.reference, "refused")
    return _done(request, shown, "skipped", lambda now: due_changed.skip(shown.order, due.position, now, by=BUYER))


def _pause(request: HttpRequest, shown: Payments) -> HttpResponse:
    form = PauseForm(shown.today, request.POST)
    if not shown.can_pause:
        return _again(request, shown.order.checkout.reference, "refused")
    if not form.is_valid():
        return _page(request, shown, pausing=form)
    until = form.cleaned_data["resumes_on"]
    return _done(request, shown, "paused", lambda now: pause(shown.order, now, by=BUYER, resumes_on=until))


def _resume(request: HttpRequest, shown: Payments) -> HttpResponse:
    if not shown.can_resume:
        return _again(request, shown.order.checkout.reference, "refused")
    return _done(request, shown, "resumed", lambda now: resume(shown.order, now, shown.today, by=BUYER))


def _refuse(request: HttpRequest, shown: Payments) -> HttpResponse:
    position = request.POST.get("position", "")
    number = int(position) if position.isdecimal() and len(position) < 8 else 0
    return _done(
        request, shown, "said_no", lambda now: due_changed.refuse(shown.order, number, shown.today, now, by=BUYER)
    )


def _done(request: HttpRequest, shown: Payments, told: str, act: Callable[[datetime], None]) -> HttpResponse:
    try:
        act(clock_of(shown.agreement)())
    except (NotRunning, due_changed.NoSuchDue, DueBeingPaid):
        told = "refused"
    enqueue_once(write_due_letters)
    return _again(request, shown.order.checkout.reference, told)


def _answer(request: HttpRequest, shown: Payments) -> HttpResponse:
    proposal, accepts = shown.proposal, request.POST.get("answer") == "yes"
    if proposal is None or request.POST.get("proposal") != str(proposal.pk):
        return _again(request, shown.order.checkout.reference, "refused")
    told = "accepted" if accepts else "declined"
    return _done(request, shown, told, lambda now: answer_proposal(shown.order, proposal.pk, now, accepts=accepts))


_ACTS: dict[str, Callable[[HttpRequest, Payments], HttpResponse]] = {
    "answer": _answer,
    "pay": _pay,
    "card": _change_card,
    "skip": _skip,
    "pause": _pause,
    "resume": _resume,
    "refuse": _refuse,
}
_TOLD = {
    "refused": _REFUSED,
    "skipped": "The payment is skipped.",
    "paused": "Your payments are paused.",
    "resumed": "Your payments go on.",
    "stopped": "Stopped. Nothing more is taken; a letter about it is on its way to you.",
    "said_no": "It won't be taken.",
    "accepted": "You accepted. A letter about it is on its way to you.",
    "declined": "You declined. Everything stays as it was agreed.",
}


def _again(request: HttpRequest, reference: str, told: str) -> HttpResponse:
    return lead_to(request, f"{payments_path(reference)}&{urlencode({'told': told})}")


def _page(
    request: HttpRequest,
    shown: Payments,
    *,
    pay: PayForm | None = None,
    card: CardForm | None = None,
    pausing: PauseForm | None = None,
) -> HttpResponse:
    can_pay, reference = bool(shown.choices or shown.may_pay_more), shown.order.checkout.reference
    context = _context(request, shown) | {
        "pay": pay or (PayForm(shown) if can_pay else None),
        "card": card or CardForm(),
        "pausing": pausing or PauseForm(shown.today),
        "press": secrets.token_urlsafe(18),
        "told": _told(request, shown),
        "stop_path": with_mark(reverse("confirmation:stop", args=[reference]), reference),
    }
    wrong = bool(pay or card or pausing)
    with timezone.override(shown.order.business.time_zone):
        response = render(request, "orders/running/payments.html", context, status=400 if wrong else 200)
    response["X-Answered"] = "no" if shown.awaits_answer else "yes"  # the page asks while it waits
    return private(response)


def _context(request: HttpRequest, shown: Payments) -> dict[str, object]:
    order = shown.order
    return {
        "shown": shown,
        "order": order,
        "checkout": order.checkout,
        "business": order.business,
        "look": shown_version(order.version_id).look,
        "number_locale": number_locale(request),
    }


def _told(request: HttpRequest, shown: Payments) -> tuple[str, str]:
    """What became of the last act: good, wrong or nothing, and its words."""
    told = request.GET.get("told", "")[:40]
    kind, _, number = told.partition("-")
    if kind == "attempt" and number.isdecimal() and len(number) < 19:
        attempt = Attempt.objects.filter(id=int(number), checkout=shown.order.checkout_id).first()
        return _told_of(attempt) if attempt else ("", "")
    return ("wrong" if told == "refused" else "good", _TOLD[told]) if told in _TOLD else ("", "")


def _told_of(attempt: Attempt) -> tuple[str, str]:
    match attempt.state:
        case Attempt.State.APPROVED:
            return "good", "Paid. A receipt is on its way to you." if attempt.amount_minor else "Your card is changed."
        case Attempt.State.DECLINED:
            return "wrong", decline_words(attempt.reason)
        case Attempt.State.VOID:
            return "wrong", "Nothing was charged. Please try again."
        case _:
            return "", ""
