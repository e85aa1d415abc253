"""Signing in, passwords, and opening a business."""

from __future__ import annotations

import re
from typing import Any, cast
from zoneinfo import available_timezones

from django import forms
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password

from cravik.people.models import Business, User
from cravik.ui.fields import LongSelect, MailAddressField
from cravik.ui.places import country_choices, currency_choices, usual_of_countries, zone_choices


class SignInForm(AuthenticationForm):
    error_messages = {
        "invalid_login": "That e-mail address and password don't match. Check capital letters.",
        "inactive": "This user can no longer sign in.",
    }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "E-mail address"
        self.fields["username"].widget = forms.EmailInput(attrs={"autocomplete": "username", "autofocus": True})
        self.fields["password"].widget.attrs["autocomplete"] = "current-password"

    def clean_username(self) -> str:
        return str(self.cleaned_data["username"]).strip().lower()


def clean_statement(typed: str) -> str:
    """The words on a statement, as card networks take them. Raises ``ValidationError``."""
    text = " ".join(typed.split()).upper()
    if not re.fullmatch(r"[A-Z0-9 .*-]{5,22}", text, re.ASCII):
        wanted = "Use 5 to 22 plain letters, digits, spaces, points or hyphens."
        short = f"“{text}” has only {len(text)}. " if 0 < len(text) < 5 else ""
        raise forms.ValidationError(f"{short}{wanted}")
    return text


class NewBusinessForm(forms.ModelForm[Business]):
    """What is needed to ask for money: everything else has a default and can wait."""

    country = forms.ChoiceField(choices=country_choices, initial="IE")
    currency = forms.ChoiceField(choices=currency_choices, initial="EUR")

    class Meta:
        model = Business
        fields = ["name", "support_email", "country", "currency", "time_zone", "statement_text"]
        field_classes = {"support_email": MailAddressField}
        labels = {
            "name": "Business name",
            "support_email": "Where buyers reach you",
            "time_zone": "Time zone",
            "statement_text": "On the buyer's statement",
        }
        help_texts = {
            "name": "Buyers see it on top of every page.",
            "support_email": "An e-mail address that strangers may see.",
            "statement_text": "5 to 22 letters, digits and spaces, so that buyers know the payment again.",
        }
        widgets = {"time_zone": LongSelect()}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        present = self.instance.time_zone
        choices = zone_choices()
        # One of a name that the list has no more stays what it is.
        known = any(zone == present for zone, _ in choices)
        zones = choices if known else [(present, present), *choices]
        if self.instance.pk is None:
            zones = [("", "That of the country"), *zones]
            self.fields["time_zone"].required = False
            self.initial["time_zone"] = ""
        cast(LongSelect, self.fields["time_zone"].widget).choices = zones

    @property
    def usual(self) -> dict[str, tuple[str, tuple[str, ...]]]:
        """What the page proposes for each country."""
        return usual_of_countries()

    def clean_time_zone(self) -> str:
        zone = str(self.cleaned_data["time_zone"])
        if not zone:
            _, zones = usual_of_countries().get(self.cleaned_data.get("country", ""), ("", ()))
            return zones[0] if zones else "UTC"
        if zone not in available_timezones():
            raise forms.ValidationError("Choose a time zone from the list.")
        return zone

    def clean_statement_text(self) -> str:
        return clean_statement(str(self.cleaned_data["statement_text"]))


class NewPasswordField(forms.CharField):
    widget = forms.PasswordInput(attrs={"autocomplete": "new-password"})

    def __init__(self, **options: Any) -> None:
        hint = "At least 10 characters. A few words in a row are good."
        super().__init__(**{"strip": False, "help_text": hint, **options})


class FirstUserForm(forms.ModelForm[User]):
    """Who signs in."""

    password = NewPasswordField()

    class Meta:
        model = User
        fields = ["email"]
        field_classes = {"email": MailAddressField}
        labels = {"email": "Your e-mail address, to sign in with"}
        widgets = {"email": forms.EmailInput(attrs={"autocomplete": "username"})}

    def clean_email(self) -> str:
        return str(self.cleaned_data["email"]).strip().lower()

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if password := cleaned.get("password"):
            try:
                validate_password(password, User(email=cleaned.get("email", "")))
            except forms.ValidationError as error:
                self.add_error("password", error)
        return cleaned


class SignUpForm(forms.Form):
    email = MailAddressField(
        label="Your e-mail address, to sign in with", widget=forms.EmailInput(attrs={"autocomplete": "username"})
    )


class ForgottenForm(forms.Form):
    email = MailAddressField(
        label="The e-mail address that you sign in with",
        widget=forms.EmailInput(attrs={"autocomplete": "username", "autofocus": True}),
    )


class NewPasswordForm(forms.Form):
    """Sets the user's password."""

    password = NewPasswordField(label="New password")

    def __init__(self, user: User, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.user = user

    def clean_password(self) -> str:
        password = str(self.cleaned_data["password"])
        validate_password(password, self.user)
        return password

    def save(self) -> User:
        self.user.set_password(self.cleaned_data["password"])
        self.user.save(update_fields=["password"])
        return self.user


class ChangePasswordForm(NewPasswordForm):
    """The same for whoever knows the present one."""

    present = forms.CharField(
        label="Present password", widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}), strip=False
    )
    field_order = ("present", "password")

    def clean_present(self) -> str:
        present = str(self.cleaned_data["present"])
        if not self.user.check_password(present):
            raise forms.ValidationError("That is not your current password. Check capital letters.")
        return present
