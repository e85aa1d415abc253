"""Making a link, and its bench."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue.queries import item_of
from cravik.core.documents.partial_offer import read_partial_offer
from cravik.core.errors import BasketRefused
from cravik.core.pricing.quote import Quote, quote
from cravik.core.pricing.supposed import supposed_basket
from cravik.core.pricing.tax import Place
from cravik.core.text.sentence import Phrase, sentence
from cravik.links import services
from cravik.links.forms import AddressForm, DraftForm, NameForm, OfferForm
from cravik.links.item_line import PriceTooLow
from cravik.links.items import item_prices, make_link_of_item
from cravik.links.models import Link, items_of_draft
from cravik.links.queries import link_of
from cravik.links.terms import terms_of
from cravik.setup.access import SellerRequest, seller_page
from cravik.setup.saving import ChangedElsewhere, NameTaken

#: The terms of the whole offer that can be opened from its sentence, and the editor of each.
_EDITORS = {"title": "title", "delivery": "delivery", "tax": "tax", "fee": "fee"}
_OF_A_LINE = re.compile(r"lines\[(\d+)\]\.(price|name)")


@dataclass(frozen=True)
class BenchPhrase:
    """A phrase of the offer sentence, the name of the editor that it opens, if there is one, and the comma
    or full stop that must not be parted from it. A ``gap`` is still to be decided."""

    text: str
    editor: str
    after: str = ""
    gap: bool = False


@dataclass(frozen=True)
class Bench:
    """What the bench shows of a draft. ``slip`` is what the supposed buyer pays; None while there is no sum."""

    phrases: tuple[BenchPhrase, ...]
    #: Where the slip's buyer is, where that matters.
    place: Place | None
    slip: Quote | None
    gaps: tuple[str, ...]
    #: Why it cannot be published, though nothing is missing.
    reasons: tuple[str, ...]

    @classmethod
    def of(cls, link: Link) -> Bench:
        document = link.effective["link"]["offer"] if link.effective else link.draft["offer"]
        keys = [line["key"] for line in link.draft["offer"]["lines"]]
        phrases = tuple(_phrases(sentence(read_partial_offer(document)), keys, len(items_of_draft(link)) > 0))
        gaps = link.gaps
        reasons = () if gaps else services.why_not_ready(link)
        if gaps:
            return cls(phrases, None, None, gaps, reasons)
        offer = link.offer
        basket = supposed_basket(offer, timezone.localdate(), link.business.country)
        try:
            quoted = quote(replace(offer, window=None), basket)
        except BasketRefused:
            return cls(phrases, basket.destination, None, gaps, reasons)
        return cls(phrases, basket.destination, quoted, gaps, reasons)


def _phrases(spoken: Iterable[Phrase], keys: list[str], has_items: bool) -> list[BenchPhrase]:
    phrases: list[BenchPhrase] = []
    for phrase in spoken:
        text = phrase.text
        if phrases and text[0] in ",;.":
            phrases[-1] = replace(phrases[-1], after=text[0])
            text = text[1:]
        phrases.append(BenchPhrase(text, _editor_of(phrase.about, keys, has_items), gap=phrase.gap))
    return phrases


def _editor_of(about: str, keys: list[str], has_items: bool) -> str:
    found = _OF_A_LINE.fullmatch(about)
    if found is None:
        return _EDITORS.get(about, "")
    if found[2] == "name" and len(keys) == 1 and not has_items:
        return "title"
    return f"{found[2]}-{keys[int(found[1])]}"


def link_or_404(request: SellerRequest, link_id: int) -> Link:
    """The link, if it is of the business that the seller acts for."""
    link = link_of(request.business, link_id)
    if link is None:
        raise Http404
    return link


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def new(request: SellerRequest) -> HttpResponse:
    wanted = request.GET.get("item", "")
    item = item_of(request.business, int(wanted)) if re.fullmatch(r"\d{1,18}", wanted, re.ASCII) else None
    initial = {"currency": item.currency, "purpose": item.name} if item else {"currency": request.business.currency}
    form = OfferForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        now = timezone.now()
        try:
            link = (
                make_link_of_item(request.business, item, form.money, now)
                if item
                else services.make_link(request.business, form.cleaned_data["purpose"], form.money, now)
            )
        except PriceTooLow as refused:
            form.add_error("amount", str(refused))
        else:
            messages.success(request, "Here is your draft. Nobody sees it until you publish it.")
            return redirect("links:bench", link.id)
    return render(request, "links/new.html", {"form": form, "item": item}, status=400 if form.is_bound else 200)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def bench(request: SellerRequest, link_id: int) -> HttpResponse:
    """The bench. A post saves the draft; one from the page's own script is answered in JSON."""
    link = link_or_404(request, link_id)
    form = DraftForm(link, request.POST if request.method == "POST" else None)
    by_script = request.headers.get("Accept") == "application/json"
    status = 200
    if form.is_bound:
        status = 400
        if form.is_valid():
            try:
                changed = services.change_draft(link, form.typed, form.cleaned_data["revision"], timezone.now())
            except PriceTooLow as refused:
                form.add_error(_amount_field(form), str(refused))
            except ChangedElsewhere:
                status = 409
                form.add_error(
                    None,
                    "This link was changed in another tab or by someone else since you opened it here."
                    " What you typed is still below: copy what you need, then load the page again.",
                )
            else:
                if not by_script:
                    messages.success(request, f"Saved. {changed.cleared}".strip())
                    return redirect("links:bench", link.id)
                return JsonResponse(_saved(request, changed))
    if by_script and form.is_bound:
        return JsonResponse({"errors": form.errors, "changed_elsewhere": status == 409}, status=status)
    return _show_bench(request, link, status, form=form)


def _amount_field(form: DraftForm) -> str | None:
    """Where a price that is too low for its item is told."""
    return next((f"amount.{key}" for key in form.items if f"amount.{key}" in form.fields), None)


def _saved(request: HttpRequest, changed: services.DraftChanged) -> dict[str, object]:
    link = changed.link
    if changed.cleared:
        messages.warning(request, changed.cleared)  # for the page, which the script reloads
    context = {"bench": Bench.of(link), "link": link}
    return {
        "revision": link.revision,
        "sentence": render(request, "links/_sentence.html", context).content.decode(),
        "slip": render(request, "links/_what_if.html", context).content.decode(),
        "missing": render(request, "links/_missing.html", context).content.decode(),
        "unpublished": link.has_unpublished_changes,
        "cleared": changed.cleared,
    }


@require_POST
@seller_page
def rename(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = NameForm(request.POST)
    if form.is_valid():
        try:
            services.rename(link, form.cleaned_data["name"])
        except NameTaken as taken:
            form.add_error("name", f"Another link has that name. “{taken.free}” is free.")
        else:
            messages.success(request, "Renamed.")
            return redirect("links:bench", link.id)
    return _show_bench(request, link, 400, name_form=form)


@require_POST
@seller_page
def change_address(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = AddressForm(request.POST)
    if form.is_valid():
        try:
            services.change_address(link, form.cleaned_data["slug"])
        except services.AddressTaken as taken:
            form.add_error("slug", f"That address is taken. “{taken.free}” is free.")
        else:
            messages.success(request, "Address changed. The old one keeps answering.")
            return redirect("links:bench", link.id)
    return _show_bench(request, link, 400, address_form=form)


def _show_bench(
    request: SellerRequest, link: Link, status: int, **forms: DraftForm | NameForm | AddressForm
) -> HttpResponse:
    """The bench, with those of its forms that were sent, as they were sent."""
    context = {
        "link": link,
        "bench": Bench.of(link),
        "terms": terms_of(link),
        "item_prices": item_prices(link),
        "form": DraftForm(link),
        "name_form": NameForm(initial={"name": link.name}),
        "address_form": AddressForm(initial={"slug": link.slug}),
    }
    return render(request, "links/bench.html", context | forms, status=status)


_STEPS = {
    "publish": (services.publish, "Published. This is what buyers see now."),
    "pause": (services.pause, "Paused. Anyone who had the page open may still finish within 15 minutes."),
    "resume": (services.resume, "Live again."),
    "end": (services.end, "Ended. Anyone who had the page open may still finish within 15 minutes."),
}


@require_POST
@seller_page
def step(request: SellerRequest, link_id: int, name: str) -> HttpResponse:
    """Publish, pause, resume or end the link."""
    link = link_or_404(request, link_id)
    act, done = _STEPS[name]
    try:
        act(link, timezone.now())
    except services.NotReady as refusal:
        messages.warning(request, f"Not published. {refusal}")
        return redirect("links:bench", link.id)
    except services.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    messages.success(request, done)
    return redirect("share:hand_out" if name in ("publish", "resume") else "links:bench", link.id)
