"""What runs, for its seller: the list with what is expected, and the page of one, with what can be changed of it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_http_methods, require_safe

from cravik.core.english import counted, day_words
from cravik.events.reading import events_of_order
from cravik.mailroom.queries import letters_about_order
from cravik.orders.acts import due_changed
from cravik.orders.acts.plan_changed import propose
from cravik.orders.acts.plan_ended import stop
from cravik.orders.acts.plan_paused import NotRunning, pause, resume
from cravik.orders.clock import clock_of, day_of
from cravik.orders.letter_again import can_go_again
from cravik.orders.letter_tasks import write_due_letters
from cravik.orders.models import Order
from cravik.orders.own_page import payments_path
from cravik.orders.running.expected import expected_of
from cravik.orders.running.listing import COLUMNS, STATES, found_agreements, hidings, rows_of
from cravik.orders.running.listing_file import as_csv
from cravik.orders.running.payments import Payments, payments_of
from cravik.orders.running.rehearsing import live_on, next_day_of
from cravik.orders.running.seller_forms import ChangeForm, ProposalForm, SumForm
from cravik.orders.running_path import running_path
from cravik.payments.dues import DueBeingPaid
from cravik.payments.models import Agreement, Due
from cravik.payments.ways import present_ways
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id
from cravik.ui.lists import sort_columns
from cravik.ui.pictures import svg
from cravik.upkeep.queue import enqueue_once

_PAGE = 50
_REFUSED = "That isn't possible as it stands now. Nothing was changed."


@require_safe
@seller_page(Permission.ORDERS)
def running(request: SellerRequest) -> HttpResponse:
    """The list as its address says."""
    business, now = request.business, timezone.now()
    state, q, sort = _sought(request)
    page = Paginator(found_agreements(business, state, q, sort, now), _PAGE).get_page(request.GET.get("page"))
    expected = expected_of(business, now)
    sought = {name: value for name, value in (("state", state), ("q", q), ("sort", sort)) if value}
    context = {
        "page": page,
        "rows": rows_of(list(page.object_list), business, now),
        "states": {name: words for name, (words, _) in STATES.items()},
        "state": state,
        "q": q,
        "query": urlencode(sought),
        "hidings": list(hidings(state, q)),
        "columns": sort_columns(COLUMNS, sort),
        "expected": expected if expected.is_any else None,
        "picture": svg(expected.picture) if expected.is_any else "",
        "is_new": not page.object_list and not (state or q),
    }
    return render(request, "orders/running/list.html", context)


@require_safe
@seller_page(Permission.EXPORT)
def export(request: SellerRequest) -> StreamingHttpResponse:
    """What the list shows, as CSV (RFC 4180)."""
    now = timezone.now()
    found = found_agreements(request.business, *_sought(request), now)
    return as_csv(found, request.business, now)


def _sought(request: SellerRequest) -> tuple[str, str, str]:
    state = request.GET.get("state", "")
    return state if state in STATES else "", request.GET.get("q", "").strip()[:100], request.GET.get("sort", "")[:20]


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.ORDERS)
def plan(request: SellerRequest, number: int) -> HttpResponse:
    """One that runs; sent, what its buttons do."""
    return _plan(request, number, rehearsal=False)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.ORDERS)
def rehearsed_plan(request: SellerRequest, number: int) -> HttpResponse:
    """One that is rehearsed, whose clock can be moved on."""
    return _plan(request, number, rehearsal=True)


def _plan(request: SellerRequest, number: int, *, rehearsal: bool) -> HttpResponse:
    related = ("business", "checkout", "link")
    orders = Order.objects.of(request.business).select_related(*related)
    order = get_object_or_404(orders, number=number, rehearsal=rehearsal)
    agreement = get_object_or_404(Agreement, checkout=order.checkout_id)
    shown = payments_of(order, day_of(order, clock_of(agreement)()))
    if shown is None:
        return redirect(order.path)
    if request.method == "POST":
        act = _ACTS.get(request.POST.get("act", ""))
        return act(request, shown) if act else redirect(running_path(order))
    return _page(request, shown)


def _page(
    request: SellerRequest,
    shown: Payments,
    *,
    change: ChangeForm | None = None,
    own_sum: SumForm | None = None,
    proposing: ProposalForm | None = None,
) -> HttpResponse:
    order, agreement = shown.order, shown.agreement
    letters = list(letters_about_order(request.user, request.business, order.pk))
    usual = {"on": shown.today + timedelta(days=3)}
    context = {
        "shown": shown,
        "order": order,
        "agreement": agreement,
        "dues": [(due, _change_form(due, change)) for due in shown.rows],
        "own_sum": own_sum or SumForm(order.currency, initial=usual),
        "proposing": proposing or ProposalForm(order.currency, initial={"on": shown.today + timedelta(days=30)}),
        "buyer_page": payments_path(order.checkout.reference),
        "happened": events_of_order(order.pk),
        "letters": [(letter, can_go_again(letter)) for letter in letters],
        "can_pause": agreement.repeats and agreement.state == Agreement.State.RUNNING and not shown.is_stopped,
        "next_day": next_day_of(order, agreement) if agreement.rehearsal else None,
    }
    return render(request, "orders/running/plan.html", context, status=400 if change or own_sum or proposing else 200)


def _change_form(due: Due, bound: ChangeForm | None) -> ChangeForm | None:
    """The form of a due that can be changed; the one that was sent, as it was."""
    if due.state not in Due.UNPAID or not due.position:
        return None
    prefix = f"due-{due.position}"
    return bound if bound is not None and bound.prefix == prefix else ChangeForm(due.on, due.amount, prefix=prefix)


def _change(request: SellerRequest, shown: Payments) -> HttpResponse:
    """Move a due, lower it, or both."""
    due = _due_in(request, shown)
    if due is None:
        return _refused(request, shown)
    form = ChangeForm(due.on, due.amount, request.POST, prefix=f"due-{due.position}")
    if not form.is_valid():
        return _page(request, shown, change=form)
    on, amount = form.cleaned_data["on"], form.cleaned_data["amount"]

    def act(now: datetime) -> None:
        if amount.minor < due.amount_minor:
            due_changed.lower(shown.order, due.position, amount, now, by=request.by)
        if on != due.on:
            due_changed.move(shown.order, due.position, on, shown.today, now, by=request.by)

    return _done(request, shown, "Changed. The buyer is told by letter.", act)


def _let_go(act: Callable[..., None], told: str) -> Callable[[SellerRequest, Payments], HttpResponse]:
    def done(request: SellerRequest, shown: Payments) -> HttpResponse:
        due = _due_in(request, shown)
        if due is None:
            return _refused(request, shown)
        return _done(request, shown, told, lambda now: act(shown.order, due.position, now, by=request.by))

    return done


def _due_in(request: SellerRequest, shown: Payments) -> Due | None:
    position = parse_id(request.POST.get("position", ""))
    return next((due for due in shown.unpaid if due.position == position and position), None)


def _pause(request: SellerRequest, shown: Payments) -> HttpResponse:
    return _done(
        request, shown, "Paused. The buyer is told by letter.", lambda now: pause(shown.order, now, by=request.by)
    )


def _resume(request: SellerRequest, shown: Payments) -> HttpResponse:
    return _done(
        request,
        shown,
        "It goes on. The buyer is told by letter.",
        lambda now: resume(shown.order, now, shown.today, by=request.by),
    )


def _end(request: SellerRequest, shown: Payments) -> HttpResponse:
    at_once = request.POST.get("when") == "now"

    def act(now: datetime) -> None:
        stop(shown.order, now, shown.today, by=request.by, at_once=at_once)

    return _done(request, shown, "Ended: nothing more is taken. The buyer is told by letter.", act)


def _own_sum(request: SellerRequest, shown: Payments) -> HttpResponse:
    form = SumForm(shown.order.currency, request.POST)
    if not form.is_valid():
        return _page(request, shown, own_sum=form)
    typed = form.cleaned_data
    now = clock_of(shown.agreement)()
    try:
        due_changed.agree_on(
            *(shown.order, typed["amount"], typed["reason"], typed["on"], shown.today, now), by=request.by
        )
    except due_changed.OutOfBounds:
        first = day_words(shown.today + due_changed.TOLD_BEFORE)
        form.add_error("on", f"The buyer has to be told before: {first} at the earliest, and within a year.")
        return _page(request, shown, own_sum=form)
    except NotRunning:
        return _refused(request, shown)
    return _told(request, shown, "The buyer is told by letter, and can say no until then.")


def _propose(request: SellerRequest, shown: Payments) -> HttpResponse:
    form = ProposalForm(shown.order.currency, request.POST)
    if not form.is_valid():
        return _page(request, shown, proposing=form)
    typed, now = form.cleaned_data, clock_of(shown.agreement)()
    try:
        propose(shown.order, typed["amount"], typed["on"], shown.today, typed["words"], now, by=request.by)
    except due_changed.OutOfBounds:
        form.add_error("on", "Choose a day after today, within two years, and a sum that is another than now.")
        return _page(request, shown, proposing=form)
    except NotRunning:
        return _refused(request, shown)
    return _told(request, shown, "Proposed. The buyer is told by letter; it holds once they accept it.")


def _live_on(request: SellerRequest, shown: Payments) -> HttpResponse:
    """Move a rehearsal's clock on, and let happen what happens until then."""
    if not shown.agreement.rehearsal:
        return _refused(request, shown)
    to = request.POST.get("to", "next")
    steps = live_on(shown.order, to if to in ("next", "month", "year") else "next", present_ways())
    on = day_of(shown.order, clock_of(Agreement.objects.get(id=shown.agreement.pk))())
    happened = f"Something happened on {counted(steps, 'day', 'days')}." if steps else "Nothing happened."
    return _told(request, shown, f"It is {day_words(on)} now. {happened}")


def _done(request: SellerRequest, shown: Payments, told: str, act: Callable[[datetime], None]) -> HttpResponse:
    try:
        act(clock_of(shown.agreement)())
    except (NotRunning, DueBeingPaid, due_changed.NoSuchDue, due_changed.OutOfBounds):
        return _refused(request, shown)
    return _told(request, shown, told)


def _told(request: SellerRequest, shown: Payments, told: str) -> HttpResponse:
    enqueue_once(write_due_letters)
    messages.success(request, told)
    return redirect(running_path(shown.order))


def _refused(request: SellerRequest, shown: Payments) -> HttpResponse:
    messages.error(request, _REFUSED)
    return redirect(running_path(shown.order))


_ACTS: dict[str, Callable[[SellerRequest, Payments], HttpResponse]] = {
    "change": _change,
    "skip": _let_go(due_changed.skip, "Skipped. The buyer is told by letter."),
    "waive": _let_go(due_changed.waive, "Waived. The buyer is told by letter."),
    "pause": _pause,
    "resume": _resume,
    "end": _end,
    "sum": _own_sum,
    "propose": _propose,
    "live": _live_on,
}
