"""The handle: the page that it leads to, and where a seller chooses it."""

from __future__ import annotations

from urllib.parse import urlencode

from django import forms
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from cravik.checkout.opening import open_spot
from cravik.checkout.views import show_at_spot
from cravik.core.link.handles import MAX_HANDLE, handle_fault, sum_behind
from cravik.core.text.faults import fault_words
from cravik.links.life.lifecycle import NotReady
from cravik.links.life.shown_version import shown_draft
from cravik.links.models import Link
from cravik.links.places.locks import PARAMETER, NotLockable, check_field, lock_of
from cravik.people.access import SellerRequest, seller_page
from cravik.people.models import Business
from cravik.people.roles import Permission
from cravik.setup.hosts import address_of
from cravik.share import handles
from cravik.share.handles import HandleTaken
from cravik.share.models import Handle
from cravik.ui.fields import AmountField, LongSelect, clean_amount
from cravik.ui.places import currency_choices

_TAKEN = "That handle is taken."


@require_safe
def paid_to(request: HttpRequest, name: str, sum_: str = "") -> HttpResponse:
    """The page at which a seller is paid by the handle, with the sum and in the currency that the address says."""
    found = handles.paid_to(name)
    if found is None:
        raise Http404
    if name != found.name:
        query = request.META.get("QUERY_STRING", "")
        return redirect(f"{_path(found.name, sum_)}{f'?{query}' if query else ''}")
    behind = sum_behind(sum_, found.usual, found.codes)
    opened = open_spot(found.codes[behind.currency])
    if opened is None:
        raise Http404
    filled, notices = request.GET.dict(), (_NOTICES[behind.fault],) if behind.fault else ()
    if opened.version and opened.version.offer.currency != behind.currency:  # the link behind it was changed
        notices = (_NOTICES["currency"],) if sum_ else ()
    elif behind.amount and opened.version:
        if line := handles.open_line(opened.version):
            filled[f"amount.{line}"] = behind.amount.major
        else:
            notices = (_NOTICES["amount"],)
    return show_at_spot(request, opened, filled, notices)


_NOTICES = {"currency": "currency_not_taken", "amount": "sum_unreadable"}


class HandleForm(forms.Form):
    """What the handle is called."""

    name = forms.CharField(
        label="Your handle",
        max_length=60,
        widget=forms.TextInput(
            attrs={"autocomplete": "off", "autocapitalize": "none", "spellcheck": "false", "maxlength": MAX_HANDLE}
        ),
        error_messages={"required": "Write the handle that you want."},
    )

    def clean_name(self) -> str:
        name = str(self.cleaned_data["name"]).strip().lower()
        if fault := handle_fault(name):
            raise forms.ValidationError(fault_words(fault))
        return name


class SumForm(forms.Form):
    """An address of the handle with a sum."""

    currency = forms.ChoiceField(label="Currency")
    amount = AmountField(label="Amount")
    lock = forms.BooleanField(label="Lock it: whoever pays cannot change it", required=False)

    def __init__(self, taken: list[tuple[str, Link]], *args: object) -> None:
        super().__init__(*args)  # type: ignore[arg-type]  # passed on as they came
        self.links = dict(taken)
        self.fields["currency"].choices = [(code, code) for code in self.links]  # type: ignore[attr-defined]
        self.path, self.query = "", ""

    def clean(self) -> dict[str, object]:
        cleaned = super().clean() or {}
        currency = cleaned.get("currency")
        if not currency:
            return cleaned
        amount = clean_amount(self, "amount", currency, "Write the sum.")
        link = self.links[currency]
        version = shown_draft(link)
        line = handles.open_line(version) if version else ""
        if not line or version is None or version.offer.currency != currency:
            self.add_error("amount", f"The link behind it no longer lets buyers choose an amount in {currency}.")
        elif amount is not None:
            field = f"amount.{line}"
            try:
                check_field(version.offer, field, amount.major)
                fields = {field: amount.major}
                lock = lock_of(link.pk, version.offer, fields) if cleaned.get("lock") else ""
            except NotLockable as refused:
                self.add_error("amount", str(refused))
            else:
                self.path = f"{currency}-{amount.major}"
                self.query = urlencode({PARAMETER: lock}) if lock else ""
        return cleaned


class CurrencyForm(forms.Form):
    """Another currency to be paid in."""

    also = forms.ChoiceField(label="Also take", choices=currency_choices, widget=LongSelect)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def handle(request: SellerRequest) -> HttpResponse:
    """The handle, the currencies that are taken at it, and addresses with a sum."""
    business, now = request.business, timezone.now()
    present = handles.current_handle(business)
    suggested = handles.free_handles(business)
    form = HandleForm(initial={"name": present.name if present else ""})
    if request.method == "POST" and "also" in request.POST:
        return _take_currency(request)
    if request.method == "POST" and "leave" in request.POST:
        handles.leave_currency(business, request.POST["leave"][:3], timezone.now(), by=request.by)
        return redirect("share_setup:handle")
    if request.method == "POST":
        form = HandleForm(request.POST)
        if form.is_valid():
            try:
                handles.name_handle(business, form.cleaned_data["name"], now, by=request.by)
            except HandleTaken:
                form.add_error("name", _TAKEN)
            except NotReady as refused:
                form.add_error("name", str(refused))
            else:
                messages.success(request, "That is your handle now. Any former one keeps leading there.")
                return redirect("share_setup:handle")
    behind = handles.links_behind(business) if present else []
    asked = request.GET if "amount" in request.GET else None
    sums = SumForm([(code, link) for code, _, link in behind if link.removed_at is None], asked)
    address = ""
    if present and asked is not None and sums.is_valid():
        address = address_of(business.pk, _path(present.name, sums.path)) + (f"?{sums.query}" if sums.query else "")
    context = {
        "form": form,
        "handle": present,
        "suggested": [each for each in suggested if not present or each != present.name],
        "address": address_of(business.pk, _path(present.name)) if present else "",
        "start": address_of(business.pk, _path("x"))[:-2],
        "behind": behind,
        "former": Handle.objects.filter(business=business, current=False).order_by("id"),
        "sums": sums,
        "made": address,
        "currency_form": CurrencyForm(initial={"also": business.currency}),
    }
    status = 400 if form.errors or sums.errors else 200
    return render(request, "share/handle.html", context, status=status)


@require_safe
@seller_page(Permission.SETUP)
def handle_check(request: SellerRequest) -> JsonResponse:
    """Whether the business could have that handle, while it is typed."""
    name = request.GET.get("name", "")[:60].strip().lower()
    wrong = handle_fault(name)
    fault = fault_words(wrong) if wrong else ""
    if not fault and Handle.objects.filter(name=name).exclude(business=request.business).exists():
        fault = _TAKEN
    free = handles.free_handles(request.business) if fault else []
    return JsonResponse({"is_free": not fault, "says": fault or f"“{name}” is free.", "free": free})


def _take_currency(request: SellerRequest) -> HttpResponse:
    form = CurrencyForm(request.POST)
    if not form.is_valid() or not handles.current_handle(request.business):
        messages.warning(request, "Choose the handle first, then a currency from the list.")
    elif len(handles.links_behind(request.business)) >= handles.MAX_CURRENCIES:
        messages.warning(request, f"A handle is paid in up to {handles.MAX_CURRENCIES} currencies.")
    else:
        try:
            handles.take_currency(request.business, form.cleaned_data["also"], timezone.now(), by=request.by)
        except NotReady as refused:
            messages.warning(request, f"Not taken. {refused}")
        else:
            messages.success(request, f"You are paid in {form.cleaned_data['also']} too.")
    return redirect("share_setup:handle")


def _path(name: str, sum_: str = "") -> str:
    """The handle's address, with a sum behind it."""
    return reverse("handle:sum", args=[name, sum_]) if sum_ else reverse("handle:page", args=[name])


def handle_words(business: Business) -> str:
    """The handle in Setup's list."""
    present = handles.current_handle(business)
    return address_of(business.pk, _path(present.name)) if present else "not chosen yet"
