"""Terms and conditions: their list, one of them with its versions, and the page that buyers read."""

from __future__ import annotations

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup import terms as services
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.models import Terms, TermsVersion
from cravik.setup.saving import ChangedElsewhere, NameTaken
from cravik.ui.fields import LineField, TextAreaField

MAX_LENGTH = 20_000


class TermsForm(forms.Form):
    name = LineField(
        label="Called",
        longest=60,
        missing="Give the terms a name; buyers see it.",
        help_text="Buyers read: “I agree to the …”, such as “terms of sale”.",
    )
    words = TextAreaField(
        label="The terms",
        longest=MAX_LENGTH,
        help_text="*Emphasis*, **strong**, lists and links are understood.",
        error_messages={"required": "Write the terms, or go back without any."},
        widget=forms.Textarea(attrs={"rows": 16}),
    )
    seen = forms.IntegerField(widget=forms.HiddenInput, min_value=0)


@require_safe
@seller_page(Permission.SETUP)
def all_terms(request: SellerRequest) -> HttpResponse:
    found = Terms.objects.filter(business=request.business, archived=False).prefetch_related("versions")
    context = {"found": found.order_by("-is_default", "name")}
    return render(request, "setup/all_terms.html", context)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def new(request: SellerRequest) -> HttpResponse:
    form = TermsForm(request.POST or None, initial={"name": "terms of sale", "seen": 0})
    if request.method == "POST" and form.is_valid():
        cleaned = form.cleaned_data
        try:
            terms = services.make_terms(
                request.business, cleaned["name"], cleaned["words"], timezone.now(), by=request.by
            )
        except NameTaken:
            form.add_error("name", "Other terms have that name.")
        except services.TooMany:
            form.add_error(None, f"You have {services.MAX_TERMS} sets of terms, the most there can be.")
        else:
            messages.success(request, "Saved as version 1. Drafts ask for it at once.")
            return redirect("setup:terms", terms.pk)
    return render(request, "setup/terms.html", {"form": form}, status=400 if form.is_bound else 200)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def terms(request: SellerRequest, terms_id: int) -> HttpResponse:
    """One set of terms. Changed words are a new version; buyers who agreed before agreed to the former one."""
    terms = _terms_or_404(request, terms_id)
    present = terms.version
    initial = {"name": terms.name, "words": present.words, "seen": present.number}
    form = TermsForm(request.POST or None, initial=initial)
    status = 200
    if request.method == "POST":
        status = 400
        if form.is_valid():
            cleaned = form.cleaned_data
            try:
                is_new = services.change_terms(
                    terms, cleaned["name"], cleaned["words"], cleaned["seen"], timezone.now(), by=request.by
                )
            except NameTaken:
                form.add_error("name", "Other terms have that name.")
            except ChangedElsewhere:
                status = 409
                messages.error(request, CHANGED_ELSEWHERE)
            else:
                saved = f"Saved as version {present.number + 1}." if is_new else "Saved; the wording is unchanged."
                messages.success(request, f"{saved} Drafts have it at once.")
                return redirect("setup:terms", terms.pk)
    context = {"form": form, "terms": terms, "versions": terms.versions.all()}
    return render(request, "setup/terms.html", context, status=status)


@require_POST
@seller_page(Permission.SETUP)
def act(request: SellerRequest, terms_id: int, name: str) -> HttpResponse:
    """Make the terms the default, or put them away."""
    terms = _terms_or_404(request, terms_id)
    if name == "default":
        services.make_default(terms, timezone.now(), by=request.by)
        messages.success(request, f"“{terms.name}” are the default now.")
        return redirect("setup:terms", terms.pk)
    services.archive(terms, timezone.now(), by=request.by)
    messages.success(request, f"“{terms.name}” are archived. Whoever accepted them can still read them.")
    return redirect("setup:all_terms")


@require_safe
def version(request: HttpRequest, key: str) -> HttpResponse:
    """The words of one version, for whoever is asked to agree or did agree to it."""
    found = get_object_or_404(TermsVersion.objects.select_related("terms__business"), key=key)
    return render(request, "setup/terms_version.html", {"version": found, "terms": found.terms})


def _terms_or_404(request: SellerRequest, terms_id: int) -> Terms:
    found = Terms.objects.select_related("business").filter(archived=False)
    return get_object_or_404(found, business=request.business, id=terms_id)
