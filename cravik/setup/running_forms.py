"""What a seller decides of later payments, as a form."""

from __future__ import annotations

import re

from django import forms

from cravik.core.link.running import MAX_TELL_DAYS, MAX_TRIES, MAX_TRY_DAYS
from cravik.setup.models import RunningSettings


class RunningForm(forms.ModelForm[RunningSettings]):
    tries_after = forms.CharField(
        label="Days after which it is tried again",
        required=False,
        max_length=60,
        help_text="Counted from the first try, such as 2, 5, 9; only where the reason may pass, such as no money.",
        widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
    )
    tell_days = forms.IntegerField(
        label="Days before",
        min_value=1,
        max_value=MAX_TELL_DAYS,
        widget=forms.NumberInput(attrs={"inputmode": "numeric"}),
        error_messages={
            "required": "Write how many days before.",
            "invalid": "Write a whole number of days.",
            "min_value": "The least is 1 day.",
            "max_value": f"The most is {MAX_TELL_DAYS} days.",
        },
    )

    then = forms.ChoiceField(
        label="If it isn't paid by the last of them", choices=RunningSettings.Then.choices, widget=forms.RadioSelect
    )
    stops = forms.ChoiceField(
        label="When a buyer stops, it ends", choices=RunningSettings.Stops.choices, widget=forms.RadioSelect
    )
    rest = forms.ChoiceField(
        label="The rest of a deposit is", choices=RunningSettings.Rest.choices, widget=forms.RadioSelect
    )

    class Meta:
        model = RunningSettings
        fields = ("tries_after", "then", "stops", "may_skip", "may_pause", "tell_days", "rest", "takes_each_time")
        labels = {
            "may_skip": "Buyers may skip a payment",
            "may_pause": "Buyers may pause",
            "takes_each_time": "Each payment takes its pieces and places again, not only the first",
        }

    def __init__(self, decided: RunningSettings, data: object = None) -> None:
        super().__init__(
            data,  # type: ignore[arg-type]  # what was sent, or nothing
            instance=decided,
            initial={"tries_after": ", ".join(map(str, decided.tries_after))},
        )

    def clean_tries_after(self) -> list[int]:
        typed = [part for part in re.split(r"[\s,;]+", self.cleaned_data["tries_after"]) if part]
        if not all(part.isascii() and part.isdigit() and len(part) < 4 for part in typed):
            raise forms.ValidationError("Write whole days with commas between them, such as 2, 5, 9.")
        days = [int(part) for part in typed]
        if days != sorted(set(days)) or any(not 1 <= day <= MAX_TRY_DAYS for day in days):
            raise forms.ValidationError(f"From 1 to {MAX_TRY_DAYS} days, each later than the one before.")
        if len(days) > MAX_TRIES:
            raise forms.ValidationError(f"At most {MAX_TRIES} tries; these are {len(days)}.")
        return days
