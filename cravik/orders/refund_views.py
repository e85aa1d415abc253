"""Giving money of an order back, on its own page."""

from __future__ import annotations

from secrets import token_urlsafe

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from cravik.core.errors import AmountRefused
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.orders.models import Order
from cravik.orders.refund_words import refused_words
from cravik.orders.refunding import charges_of, refund_order
from cravik.payments.models import Attempt, Refund
from cravik.payments.refunding import KeyOfAnother, LessLeft, RefundedMeanwhile, left_to_refund
from cravik.payments.ways import paid_with_words, present_ways
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import AmountField, LineField, clean_amount

_LONGEST_NOTE = 300


class RefundForm(forms.Form):
    """How much of which charge goes back. ``press`` makes one sending one refund, however often it is sent; ``seen`` is
    what was left when the page was shown."""

    charge = forms.ChoiceField(label="Of which payment")
    amount = AmountField(label="Amount")
    note = LineField(
        label="Message to the buyer",
        longest=_LONGEST_NOTE,
        missing="",
        required=False,
        help_text="Optional. It is part of the letter about the refund.",
    )
    press = forms.CharField(widget=forms.HiddenInput, max_length=22)
    seen = forms.CharField(widget=forms.HiddenInput, max_length=20, required=False)

    def __init__(self, charges: list[Attempt], data: object = None) -> None:
        self.charges = {str(charge.pk): charge for charge in charges}
        first = charges[0]
        left = left_to_refund(first)
        super().__init__(
            data,  # type: ignore[arg-type]  # what was sent, or nothing
            initial={"charge": first.pk, "amount": left.major, "press": token_urlsafe(12), "seen": left.major},
        )
        choices = [
            (key, f"{format_money_clearly(each.amount)}, {paid_with_words(each)}") for key, each in self.charges.items()
        ]
        self.fields["charge"].choices = choices  # type: ignore[attr-defined]  # a choice field
        if len(charges) == 1:
            self.fields["charge"].widget = forms.HiddenInput()

    @property
    def charge_chosen(self) -> Attempt:
        """Of a form that is valid."""
        return self.charges[self.cleaned_data["charge"]]

    def money(self) -> Money | None:
        """What was typed; None with the fault told at the field."""
        amount = clean_amount(self, "amount", self.charge_chosen.currency, "Say how much.")
        if amount is not None and not amount:
            self.add_error("amount", "Write an amount above zero.")
            return None
        return amount

    def clean(self) -> None:
        """``seen`` becomes money; None where several charges stood on the page, of which one was chosen since."""
        seen, charge = self.cleaned_data.get("seen"), self.cleaned_data.get("charge")
        if not seen or not charge or len(self.charges) > 1:
            self.cleaned_data["seen"] = None
            return
        try:
            self.cleaned_data["seen"] = Money.parse(seen, self.charges[charge].currency)
        except AmountRefused:
            self.add_error("seen", "This is not an amount.")


@seller_page(Permission.REFUND)
def refund(request: SellerRequest, number: int, *, rehearsal: bool = False) -> HttpResponse:
    """Give back all that is left of a charge, or a part."""
    order = get_object_or_404(Order.objects.of(request.business), rehearsal=rehearsal, number=number)
    charges = [charge for charge in charges_of(order) if left_to_refund(charge)]
    if request.method != "POST":
        if not charges:
            return redirect(order.path)
        return _show(request, order, RefundForm(charges))
    key = f"page-{request.business.pk}-{request.POST.get('press', '')[:22]}"
    if Refund.objects.filter(key=key, charge__checkout=order.checkout_id).exists():  # sent twice
        return redirect(order.path)
    if not charges:
        messages.warning(request, "All of it was refunded already.")
        return redirect(order.path)
    form = RefundForm(charges, request.POST)
    if {"press", "seen", "charge"} & form.errors.keys():  # nothing that one types
        messages.warning(request, "Nothing was refunded: the page was incomplete. Please repeat it.")
        return redirect(request.path)
    if form.is_valid() and (amount := form.money()) is not None:
        return _refund(request, order, form, amount, key)
    return _show(request, order, form, 400)


def _refund(request: SellerRequest, order: Order, form: RefundForm, amount: Money, key: str) -> HttpResponse:
    try:
        done = refund_order(
            order,
            amount,
            key,
            present_ways(),
            timezone.now,
            by=request.by,
            charge_reference=form.charge_chosen.gateway_reference,
            note=form.cleaned_data["note"],
            seen_left=form.cleaned_data["seen"],
        )
    except LessLeft as less:
        form.add_error("amount", f"Only {format_money_clearly(less.left)} of it is left to refund.")
        return _show(request, order, form, 400)
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
    data = request.POST.copy()
    data["seen"] = left.major
    form = RefundForm(charges_of(order), data)
    words = f"Nothing was refunded: somebody else did meanwhile. {format_money_clearly(left)} is left."
    form.add_error("amount", f"{words} To go on, press again.")
    return _show(request, order, form, 409)


def _show(request: SellerRequest, order: Order, form: RefundForm, status: int = 200) -> HttpResponse:
    charge = next(iter(form.charges.values()))
    context = {
        "order": order,
        "form": form,
        "charge": charge,
        "left": left_to_refund(charge),
        "used": paid_with_words(charge),
    }
    return render(request, "orders/refund.html", context, status=status)
