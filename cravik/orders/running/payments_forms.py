"""The forms of a buyer's page of payments."""

from __future__ import annotations

from datetime import date, timedelta

from django import forms

from cravik.checkout.parts.card import CardFields
from cravik.core.english import day_words
from cravik.core.pricing.money import Money
from cravik.core.text.money_text import format_money_clearly
from cravik.orders.running.payments import Choice, Payments
from cravik.payments.gateway import Card
from cravik.payments.ways.card import CardMeans
from cravik.ui.fields import AmountField, LineField, clean_amount

#: With what it is paid.
KEPT, ANOTHER = "kept", "another"
SOME = "some"
#: How long what runs may be paused at most.
MAX_PAUSE = timedelta(days=366)


class PayForm(CardFields):
    """What is paid now, and with which card."""

    def __init__(self, payments: Payments, data: object = None) -> None:
        super().__init__(data)  # type: ignore[arg-type]  # what was sent, or nothing
        self.payments, self.currency = payments, payments.order.currency
        self.left = payments.to_come or Money(0, self.currency)
        choices = [(each.key, f"{each.words}: {format_money_clearly(each.amount)}") for each in payments.choices]
        if payments.may_pay_more:
            choices.append((SOME, "Another sum"))
        if len(choices) > 1:
            self.fields["what"] = forms.ChoiceField(
                label="Pay",
                choices=choices,
                widget=forms.RadioSelect,
                initial=choices[0][0],
                error_messages={"required": "Choose what you pay.", "invalid_choice": "Choose one of these."},
            )
        if payments.may_pay_more:
            self.fields["sum"] = AmountField(label=f"The sum, in {self.currency}")
        kept = payments.agreement.kept_card
        if kept is not None:
            cards = [(KEPT, f"The card ending in {kept.ending}"), (ANOTHER, "Another card, which is kept instead")]
            has_failed = any(due.state == "failed" for due in payments.owed)
            self.fields["with"] = forms.ChoiceField(
                label="With",
                choices=cards,
                widget=forms.RadioSelect,
                initial=ANOTHER if has_failed else KEPT,
                error_messages={"required": "Choose a card.", "invalid_choice": "Choose one of these."},
            )
        self.add_card()
        if data is not None and kept is not None and self.data.get("with") == KEPT:
            for name in ("card_number", "expiry", "security_code"):
                self.fields[name].required = False
            self.takes_card = False

    def clean(self) -> None:
        if self.cleaned_data.get("what", self._only) != SOME:
            return
        amount = clean_amount(self, "sum", self.currency, "Write a sum.")
        if amount is not None and not 0 < amount.minor <= self.left.minor:
            most = format_money_clearly(self.left)
            self.add_error("sum", f"Write a sum above nothing, and at most what is left: {most}.")
        self.cleaned_data["sum"] = amount

    @property
    def _only(self) -> str:
        """What is paid where there is no choice."""
        return self.payments.choices[0].key if self.payments.choices else SOME

    @property
    def choice(self) -> Choice:
        """What was chosen; the only one where there is no choice."""
        key, choices = self.cleaned_data.get("what"), self.payments.choices
        return next((each for each in choices if each.key == key), choices[-1])

    @property
    def amount(self) -> Money | None:
        """A part of it; None: all."""
        return self.cleaned_data["sum"] if self.cleaned_data.get("what", self._only) == SOME else None

    @property
    def means(self) -> CardMeans | None:
        """The card that was typed; None: the one that is kept."""
        return None if self.cleaned_data.get("with") == KEPT else CardMeans(Card(*self.typed_card))


class CardForm(CardFields):
    """Another card for what is taken later."""

    def __init__(self, data: object = None) -> None:
        super().__init__(data, prefix="new")  # type: ignore[arg-type]
        self.add_card()

    @property
    def means(self) -> CardMeans:
        return CardMeans(Card(*self.typed_card))


class PauseForm(forms.Form):
    resumes_on = forms.DateField(
        label="Until",
        required=False,
        widget=forms.DateInput(attrs={"type": "date"}),
        help_text="Leave blank to pause until you resume.",
        error_messages={"invalid": "Write a day, such as 2027-04-01."},
    )

    def __init__(self, today: date, data: object = None) -> None:
        super().__init__(data)  # type: ignore[arg-type]
        self.today = today

    def clean_resumes_on(self) -> date | None:
        day: date | None = self.cleaned_data["resumes_on"]
        if day is not None and not self.today < day <= self.today + MAX_PAUSE:
            last = day_words(self.today + MAX_PAUSE)
            raise forms.ValidationError(f"Choose a day after today, and by {last} at the latest.")
        return day


class StopForm(forms.Form):
    why = LineField(label="Why, if you like to say", longest=300, missing="", required=False)
