"""Changing a password, and the way back for one that was forgotten."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.views import PasswordResetConfirmView
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.people.access import SellerRequest, members_page
from cravik.people.devices import remember_device
from cravik.people.forms import ChangePasswordForm, ForgottenForm, NewPasswordForm
from cravik.people.guessing import may_ask_for_letter
from cravik.people.services import way_back_wanted


@require_http_methods(["GET", "POST"])
def forgotten(request: HttpRequest) -> HttpResponse:
    """Send the way back to whoever has the address. What is said does not tell whether anyone has."""
    form = ForgottenForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if may_ask_for_letter(request, timezone.now()):
            way_back_wanted.run(str(form.cleaned_data["email"]).lower())
        return render(request, "people/way_back_sent.html", {"email": form.cleaned_data["email"]})
    return render(request, "people/forgotten.html", {"form": form}, status=400 if form.is_bound else 200)


class NewPasswordView(PasswordResetConfirmView):
    """The page at the end of the way back. The address holds for an hour, and once."""

    template_name = "people/new_password.html"
    form_class = NewPasswordForm  # type: ignore[assignment]  # asks once, and has what the view calls
    success_url = reverse_lazy("results:links")
    post_reset_login = True
    post_reset_login_backend = "django.contrib.auth.backends.ModelBackend"

    def form_valid(self, form: Any) -> HttpResponse:
        response = super().form_valid(form)
        remember_device(response, form.user)
        messages.success(self.request, "Your password is changed.")
        return response


@require_http_methods(["GET", "POST"])
@members_page
def change_password(request: SellerRequest) -> HttpResponse:
    form = ChangePasswordForm(request.user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        update_session_auth_hash(request, form.save())
        messages.success(request, "Your password is changed. Other browsers are signed out.")
        return redirect("setup:home")
    return render(request, "people/change_password.html", {"form": form}, status=400 if form.is_bound else 200)
