"""What goes back of a charge, as its seller says it: all that is left, pieces, or an amount."""

from __future__ import annotations

from collections.abc import Set
from secrets import token_urlsafe

from django import forms
from django.http import QueryDict

from cravik.core.errors import AmountRefused
from cravik.core.pricing.money import Money
from cravik.core.pricing.refunds import left_to_give_back
from cravik.core.text.money_text import format_money_clearly
from cravik.orders.charges import Charge, named_lines, shares_of
from cravik.orders.models import Order
from cravik.orders.refunding import RefundWish, TooFewPieces
from cravik.payments.refunding import LessLeft
from cravik.ui.fields import AmountField, LineField, clean_amount

_LONGEST_NOTE, _LONGEST_REASON = 300, 120
ALL, PIECES, AMOUNT = "all", "pieces", "amount"
#: What nobody types: where one of these is wrong, the page was incomplete.
HIDDEN = ("press", "seen", "charge")


class RefundForm(forms.Form):
    """``press`` makes one sending one refund, however often it is sent; ``seen`` is what was left when the page was
    shown, and ``agreed`` what pieces were said to come to."""

    how = forms.ChoiceField(
        label="What goes back",
        choices=(),
        widget=forms.RadioSelect,
    )
    amount = AmountField(label="Amount")
    delivery = forms.BooleanField(label="Delivery", required=False)
    cover = forms.BooleanField(label="The card fee that the buyer covered", required=False)
    restocks = forms.BooleanField(label="Put the pieces back into stock", required=False)
    frees_places = forms.BooleanField(label="Make their places available again", required=False)
    why = LineField(
        label="Reason",
        longest=_LONGEST_REASON,
        missing="",
        required=False,
        help_text="Optional. The credit note says it.",
    )
    note = LineField(
        label="Message to the buyer",
        longest=_LONGEST_NOTE,
        missing="",
        required=False,
        help_text="Optional. It is part of the letter about the refund.",
    )
    charge = forms.CharField(widget=forms.HiddenInput, max_length=19)
    press = forms.CharField(widget=forms.HiddenInput, max_length=22)
    seen = forms.CharField(widget=forms.HiddenInput, max_length=20)
    agreed = forms.CharField(widget=forms.HiddenInput, max_length=20, required=False)

    def __init__(
        self, order: Order, charge: Charge, data: QueryDict | None = None, withdrawn: Set[str] = frozenset()
    ) -> None:
        """``withdrawn`` are the keys of the lines that its buyer withdrew from: they are chosen at first."""
        self.paid = charge
        left = charge.left.major
        hidden = {"charge": charge.attempt.pk, "press": token_urlsafe(12), "seen": left}
        super().__init__(data, initial={"how": ALL, "amount": left, **hidden})
        everything = f"Everything left, {format_money_clearly(charge.left)}"
        self.fields["how"].choices = [(ALL, everything), (PIECES, "Some of it"), (AMOUNT, "An amount")]  # type: ignore[attr-defined]  # a choice field
        quoted = {line.key: line for line in named_lines(order, (each.key for each in charge.rows.lines))}
        rest, gone = left_to_give_back(charge.rows, shares_of(charge.rows, charge.standing)), charge.pieces_gone
        self.pieces: dict[str, str] = {}
        for place, line in enumerate(charge.rows.lines):
            most = line.quantity - gone.get(line.key, 0)
            if most and rest.lines[line.key]:
                self.pieces[f"pieces-{place}"] = line.key
                if line.key in withdrawn:
                    self.initial[f"pieces-{place}"] = most
                names = ", ".join((quoted[line.key].name, *quoted[line.key].options))
                worth = format_money_clearly(Money(rest.lines[line.key], order.currency))
                self.fields[f"pieces-{place}"] = forms.IntegerField(
                    label=names,
                    min_value=0,
                    max_value=most,
                    required=False,
                    help_text=f"of {most:,}, {worth} in all",
                    error_messages={
                        "max_value": _only(most),
                        "min_value": "Write 0 or more.",
                        "invalid": "Write a whole number.",
                    },
                    widget=forms.NumberInput(attrs={"inputmode": "numeric"}),
                )
        if any(key in withdrawn for key in self.pieces.values()) and not withdrawn >= set(self.pieces.values()):
            self.initial["how"] = PIECES
        else:  # all of it goes back, or nothing was withdrawn from
            self.initial = {name: value for name, value in self.initial.items() if name not in self.pieces}
        for name, minor in (("delivery", rest.delivery), ("cover", rest.cover)):
            if minor:
                label = f"{self.fields[name].label}, {format_money_clearly(Money(minor, order.currency))}"
                self.fields[name].label = label
            else:
                del self.fields[name]
        if order.rehearsal:
            del self.fields["restocks"], self.fields["frees_places"]

    @property
    def piece_fields(self) -> list[forms.BoundField]:
        return [self[name] for name in self.pieces]

    @property
    def extra_fields(self) -> list[forms.BoundField]:
        """What else may be ticked of pieces."""
        return [self[name] for name in ("delivery", "cover") if name in self.fields]

    @property
    def goods_fields(self) -> list[forms.BoundField]:
        return [self[name] for name in ("restocks", "frees_places") if name in self.fields]

    def clean(self) -> None:
        """``seen`` becomes money."""
        try:
            self.cleaned_data["seen"] = Money.parse(self.cleaned_data.get("seen", ""), self.paid.left.currency)
        except AmountRefused:
            self.add_error("seen", "This is not an amount.")
        typed = (self.data.get("amount") or "").strip()
        if self.cleaned_data.get("how") == ALL and typed not in ("", self.paid.left.major):
            self.add_error("how", "You typed an amount. Choose “An amount”, or clear it.")
        if self.cleaned_data.get("how") == ALL and any(self.cleaned_data.get(name) for name in self.pieces):
            self.add_error("how", "You chose pieces. Choose “Some of it”, or clear them.")

    def wish(self) -> RefundWish | None:
        """What is wished, of a form that is valid; None with the fault told at its field."""
        data = self.cleaned_data
        how, amount, pieces = data["how"], None, None
        if how == AMOUNT:
            amount = clean_amount(self, "amount", self.paid.left.currency, "Say how much.")
            if amount is None:
                return None
            if not amount:
                self.add_error("amount", "Write an amount above zero.")
                return None
        elif how == PIECES:
            pieces = {key: data.get(name) or 0 for name, key in self.pieces.items()}
            if not any(pieces.values()) and not data.get("delivery") and not data.get("cover"):
                self.add_error("how", "Say how many pieces, or what else goes back.")
                return None
        return RefundWish(
            amount=amount,
            pieces=pieces,
            delivery=bool(data.get("delivery")),
            cover=bool(data.get("cover")),
            note=data["note"],
            why=data["why"],
            restocks=bool(data.get("restocks")),
            frees_places=bool(data.get("frees_places")),
        )

    def refuse(self, refusal: LessLeft | TooFewPieces) -> None:
        """Tell it at the field."""
        if isinstance(refusal, LessLeft):
            at = "amount" if self.cleaned_data.get("how") == AMOUNT else "how"
            self.add_error(at, f"Only {format_money_clearly(refusal.left)} of it is left to refund.")
        else:
            name = next((name for name, key in self.pieces.items() if key == refusal.line), "how")
            self.add_error(name, _only(refusal.left))


def _only(left: int) -> str:
    return f"Only {left:,} of it {'is' if left == 1 else 'are'} left."
