"""Signing in and out, the first start, and choosing a business."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_required
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.views import LoginView
from django.forms import BaseForm
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from cravik.people import signing_up
from cravik.people.access import choose_business
from cravik.people.devices import remember_device
from cravik.people.first_start import forget_token, may_start
from cravik.people.forms import FirstUserForm, NewBusinessForm, NewPasswordForm, SignInForm, SignUpForm
from cravik.people.guessing import guessed_right, may_ask_for_letter, may_guess
from cravik.people.models import Business, User
from cravik.people.services import AlreadyStarted, make_first_business, sign_up_asked
from cravik.ui.fields import parse_id

_MODEL_BACKEND = "django.contrib.auth.backends.ModelBackend"


class SignInView(LoginView):
    template_name = "people/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        return super().get_context_data(open_sign_up=settings.CRAVIK_OPEN_SIGN_UP, **kwargs)

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not User.objects.exists():
            return redirect("people:start")
        return super().get(request, *args, **kwargs)

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if not may_guess(request, timezone.now()):
            return render(request, "people/locked_out.html", status=429)
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: AuthenticationForm) -> HttpResponse:
        guessed_right(self.request)
        response = super().form_valid(form)
        remember_device(response, form.get_user())
        return response


@require_http_methods(["GET", "POST"])
def start(request: HttpRequest) -> HttpResponse:
    """The first start: the first business and its user."""
    if User.objects.exists():
        return redirect("people:sign_in")
    if not may_start(request):
        return render(request, "people/start_elsewhere.html", status=403)
    sent = request.POST or None
    user_form, business_form = FirstUserForm(sent, prefix="user"), NewBusinessForm(sent, prefix="business")
    if request.method == "POST" and user_form.is_valid() & business_form.is_valid():
        password = user_form.cleaned_data["password"]
        try:
            user = make_first_business(
                user_form.save(commit=False), password, business_form.save(commit=False), timezone.now()
            )
        except AlreadyStarted:
            return redirect("people:sign_in")
        forget_token()
        login(request, user, backend=_MODEL_BACKEND)
        return redirect("links:new")
    return _business_page(request, user_form, business_form, first=True)


@require_http_methods(["GET", "POST"])
def sign_up(request: HttpRequest) -> HttpResponse:
    """A further business of a new user, where the installation is open to strangers. What is said does not tell whether
    the address has an account."""
    if not settings.CRAVIK_OPEN_SIGN_UP:
        raise Http404
    sent = request.POST or None
    user_form, business_form = SignUpForm(sent, prefix="user"), NewBusinessForm(sent, prefix="business")
    if request.method == "POST" and user_form.is_valid() & business_form.is_valid():
        email = str(user_form.cleaned_data["email"]).lower()
        if may_ask_for_letter(request, timezone.now()):
            sign_up_asked.run(email, signing_up.confirm_address(email, business_form.cleaned_data))
        return render(request, "people/sign_up_sent.html", {"email": email})
    return _business_page(request, user_form, business_form, first=False)


@require_http_methods(["GET", "POST"])
def confirm_sign_up(request: HttpRequest, signed: str) -> HttpResponse:
    """Where the letter leads: a password is chosen, and the business is open."""
    asked = signing_up.asked_in(signed) if settings.CRAVIK_OPEN_SIGN_UP else None
    if asked is None:
        return render(request, "people/confirm_sign_up.html", {"is_old": True}, status=410)
    form = NewPasswordForm(User(email=asked["email"]), request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            user = signing_up.open_business(asked, form.cleaned_data["password"], timezone.now())
        except signing_up.AlreadyOpened:
            return redirect("people:sign_in")
        login(request, user, backend=_MODEL_BACKEND)
        return redirect("links:new")
    context = {"asked": asked, "form": form}
    return render(request, "people/confirm_sign_up.html", context, status=400 if form.is_bound else 200)


@require_GET
@login_required
def no_business(request: HttpRequest) -> HttpResponse:
    return render(request, "people/no_business.html", status=403)


@require_POST
@login_required
def choose(request: HttpRequest) -> HttpResponse:
    """Act for another of the user's businesses."""
    businesses = Business.objects.filter(membership__user=request.user.pk)
    business = get_object_or_404(businesses, id=parse_id(request.POST.get("business", "")))
    choose_business(request, business)
    return redirect("results:links")


def _business_page(
    request: HttpRequest, user_form: BaseForm, business_form: NewBusinessForm, *, first: bool
) -> HttpResponse:
    context = {"user_form": user_form, "business_form": business_form, "first": first}
    context |= {"token": request.POST.get("token") or request.GET.get("token", "")}
    return render(request, "people/start.html", context, status=400 if user_form.is_bound else 200)
