"""Giving money of an order back, on its own page."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.core.pricing.money import Money
from cravik.core.pricing.refunds import RefundRows, rows_of_refund
from cravik.core.text.money_text import format_money_clearly
from cravik.orders.charges import Charge, charges_with_rows, named_lines, shares_of
from cravik.orders.models import Order, Wish
from cravik.orders.refund_form import HIDDEN, PIECES, RefundForm
from cravik.orders.refund_words import refused_words
from cravik.orders.refunding import RefundWish, TooFewPieces, draft_of, refund_order
from cravik.orders.running_path import running_path
from cravik.orders.settings import settings_of
from cravik.payments.models import Agreement, Due, Refund
from cravik.payments.refunding import KeyOfAnother, LessLeft, RefundDraft, RefundedMeanwhile
from cravik.payments.ways import paid_with_words, present_ways
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import parse_id


@dataclass(frozen=True)
class _Looked:
    """What a refund comes to, with what it consists of, and of each line how many pieces."""

    draft: RefundDraft
    rows: RefundRows
    lines: list[tuple[str, Money]]
    fee_kept: Money


@seller_page(Permission.REFUND)
def refund(request: SellerRequest, number: int, *, rehearsal: bool = False) -> HttpResponse:
    """Give back all that is left of a charge, some pieces, or an amount."""
    order = _order(request, number, rehearsal)
    charges = charges_with_rows(order)
    if request.method != "POST":
        charge = _chosen(charges, request.GET.get("charge", ""))
        if charge is None:
            return redirect(order.path)
        return _show(request, order, charges, RefundForm(order, charge, withdrawn=_withdrawn(order)))
    key = f"page-{request.business.pk}-{request.POST.get('press', '')[:22]}"
    if Refund.objects.filter(key=key, charge__checkout=order.checkout_id).exists():  # sent twice
        return redirect(order.path)
    charge = _chosen(charges, request.POST.get("charge", ""))
    if charge is None:
        messages.warning(request, "All of it was refunded already.")
        return redirect(order.path)
    form = RefundForm(order, charge, request.POST)
    if set(HIDDEN) & form.errors.keys() or request.POST.get("charge") != str(charge.attempt.pk):
        messages.warning(request, "Nothing was refunded: the page was incomplete. Please repeat it.")
        return redirect(request.path)
    looked = _looked(order, form)
    if looked is None:
        return _show(request, order, charges, form, 400)
    wish, sums = looked
    is_agreed = form.cleaned_data["how"] != PIECES or form.cleaned_data["agreed"] == sums.draft.amount.major
    if "look" in request.POST or not is_agreed:
        return _show(request, order, charges, form, looked=sums)
    return _refund(request, order, form, wish, key)


@require_POST
@seller_page(Permission.REFUND)
def refund_sum(request: SellerRequest, number: int, *, rehearsal: bool = False) -> JsonResponse:
    """What the form comes to as it is being filled in; 204 while it cannot be read."""
    order = _order(request, number, rehearsal)
    charge = _chosen(charges_with_rows(order), request.POST.get("charge", ""))
    looked = _looked(order, RefundForm(order, charge, request.POST)) if charge else None
    if looked is None:
        return JsonResponse({}, status=400)
    amount = looked[1].draft.amount
    html = render_to_string("orders/_refund_sum.html", {"looked": looked[1]}, request)
    return JsonResponse({"html": html, "agreed": amount.major, "button": f"Refund {format_money_clearly(amount)}"})


def _order(request: SellerRequest, number: int, rehearsal: bool) -> Order:
    orders = Order.objects.of(request.business).select_related("checkout", "business")
    return get_object_or_404(orders, rehearsal=rehearsal, number=number)


def _withdrawn(order: Order) -> frozenset[str]:
    """The keys of the lines that its buyer withdrew from and that nobody settled yet."""
    wishes = Wish.objects.filter(order=order, kind=Wish.Kind.WITHDRAWAL, settled_at=None)
    return frozenset(line["key"] for wish in wishes for line in wish.lines)


def _chosen(charges: list[Charge], wanted: str) -> Charge | None:
    """The charge that is asked for, or the first of which something is left."""
    left = [charge for charge in charges if charge.left]
    return next((charge for charge in left if charge.attempt.pk == parse_id(wanted)), left[0] if left else None)


def _looked(order: Order, form: RefundForm) -> tuple[RefundWish, _Looked] | None:
    """What is wished and what it comes to; None with what is wrong told at its field."""
    if not form.is_valid() or (wish := form.wish()) is None:
        return None
    charge, settings = form.paid, settings_of(order.business_id)
    try:
        draft = draft_of(charge, wish, fee_comes_back=settings.fee_comes_back)
    except (LessLeft, TooFewPieces) as refusal:
        form.refuse(refusal)
        return None
    assert draft.shares is not None and draft.fee is not None
    rows = rows_of_refund(charge.rows, shares_of(charge.rows, charge.standing), draft.shares)
    names = {
        line.key: ", ".join((line.name, *line.options))
        for line in named_lines(order, (each.key for each in rows.lines))
    }
    lines = [(f"{_times(draft.pieces.get(line.key, 0))}{names[line.key]}", line.total) for line in rows.lines]
    fee_before = Money(sum(each.fee_minor for each in charge.standing), order.currency)
    return wish, _Looked(draft, rows, lines, charge.rows.fee - fee_before - draft.fee)


def _next_due(order: Order) -> Due | None:
    """What is still to come of it, whatever is refunded."""
    runs = Agreement.objects.filter(checkout=order.checkout_id, state=Agreement.State.RUNNING)
    ahead = Due.objects.filter(checkout__in=runs.values("checkout"), state__in=Due.UNPAID)
    return ahead.order_by("on", "position").first()


def _times(pieces: int) -> str:
    return f"{pieces:,} × " if pieces > 1 else ""


def _refund(request: SellerRequest, order: Order, form: RefundForm, wish: RefundWish, key: str) -> HttpResponse:
    try:
        done = refund_order(
            order,
            wish,
            key,
            present_ways(),
            timezone.now,
            by=request.by,
            charge_reference=form.paid.attempt.gateway_reference,
            seen_left=form.cleaned_data["seen"],
        )
    except (LessLeft, TooFewPieces) as refusal:
        form.refuse(refusal)
        return _show(request, order, charges_with_rows(order), form, 400)
    except RefundedMeanwhile as meanwhile:
        return _show_meanwhile(request, order, meanwhile.left)
    except KeyOfAnother as other:  # a press of another order's page
        raise Http404 from other
    words = format_money_clearly(done.amount)
    if done.state == Refund.State.DONE:
        messages.success(
            request, f"{words} refunded to the {paid_with_words(done.charge)}. {order.buyer_name} gets a letter."
        )
    elif done.state == Refund.State.PENDING:
        messages.warning(request, f"The processor has not answered yet. {words} is set aside, and it is asked again.")
    else:
        messages.error(request, f"Nothing was refunded. {refused_words(done.reason)}")
    return redirect(order.path)


def _show_meanwhile(request: SellerRequest, order: Order, left: Money) -> HttpResponse:
    """The page as it was typed, over what is left now."""
    if not left:
        messages.warning(request, "Nothing was refunded just now: somebody else refunded all of it meanwhile.")
        return redirect(order.path)
    charges = charges_with_rows(order)
    charge = _chosen(charges, request.POST.get("charge", ""))
    assert charge is not None
    data = request.POST.copy()
    data["seen"], data["agreed"] = left.major, ""
    form = RefundForm(order, charge, data)
    words = f"Nothing was refunded: somebody else did meanwhile. {format_money_clearly(left)} is left."
    form.add_error(None, f"{words} To go on, press again.")
    return _show(request, order, charges, form, 409)


def _show(
    request: SellerRequest,
    order: Order,
    charges: list[Charge],
    form: RefundForm,
    status: int = 200,
    looked: _Looked | None = None,
) -> HttpResponse:
    """The page; the sum that was worked out is agreed to by the next press."""
    if looked:
        form.data = request.POST.copy()
        form.data["agreed"] = looked.draft.amount.major
    context = {
        "order": order,
        "form": form,
        "charge": form.paid,
        "others": [each for each in charges if each.left and each.attempt.pk != form.paid.attempt.pk],
        "used": paid_with_words(form.paid.attempt),
        "looked": looked,
        "fee_comes_back": settings_of(order.business_id).fee_comes_back,
        "next_due": _next_due(order),
        "running": running_path(order),
    }
    return render(request, "orders/refund.html", context, status=status)
