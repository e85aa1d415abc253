"""Signing in and out, the first start, and choosing a business."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.views import LoginView
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from cravik.setup.access import choose_business
from cravik.setup.devices import remember_device
from cravik.setup.forms import FirstUserForm, NewBusinessForm, SignInForm
from cravik.setup.models import Business, User
from cravik.setup.services import AlreadyStarted, make_business, make_first_business
from cravik.ui.fields import parse_id

_MODEL_BACKEND = "django.contrib.auth.backends.ModelBackend"


class SignInView(LoginView):
    template_name = "setup/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        return super().get_context_data(open_sign_up=settings.CRAVIK_OPEN_SIGN_UP, **kwargs)

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not User.objects.exists():
            return redirect("setup:start")
        return super().get(request, *args, **kwargs)

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        response = super().form_valid(form)
        remember_device(response, form.get_user())
        return response


@require_http_methods(["GET", "POST"])
def start(request: HttpRequest) -> HttpResponse:
    """The first start: the first business and its user."""
    if User.objects.exists():
        return redirect("setup:sign_in")
    return _business_page(request, first=True)


@require_http_methods(["GET", "POST"])
def sign_up(request: HttpRequest) -> HttpResponse:
    """A further business of a new user, where the installation is open to strangers."""
    if not settings.CRAVIK_OPEN_SIGN_UP:
        raise Http404
    return _business_page(request, first=False)


@require_GET
@login_required
def no_business(request: HttpRequest) -> HttpResponse:
    return render(request, "setup/no_business.html", status=403)


@require_POST
@login_required
def choose(request: HttpRequest) -> HttpResponse:
    """Act for another of the user's businesses."""
    businesses = Business.objects.filter(membership__user=request.user.pk)
    business = get_object_or_404(businesses, id=parse_id(request.POST.get("business", "")))
    choose_business(request, business)
    return redirect("results:links")


def _business_page(request: HttpRequest, *, first: bool) -> HttpResponse:
    user_form = FirstUserForm(request.POST or None, prefix="user")
    business_form = NewBusinessForm(request.POST or None, prefix="business")
    if request.method == "POST" and user_form.is_valid() & business_form.is_valid():
        make = make_first_business if first else make_business
        try:
            user = make(
                user_form.save(commit=False),
                user_form.cleaned_data["password"],
                business_form.save(commit=False),
                timezone.now(),
            )
        except AlreadyStarted:
            return redirect("setup:sign_in")
        login(request, user, backend=_MODEL_BACKEND)
        return redirect("links:new")
    context = {"user_form": user_form, "business_form": business_form, "first": first}
    return render(request, "setup/start.html", context, status=400 if user_form.is_bound else 200)
