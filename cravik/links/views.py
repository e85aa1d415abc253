"""Making a link, and its bench."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue.queries import item_of
from cravik.core.offer import Offer
from cravik.core.quote import Quote, quote
from cravik.core.sentence import sentence
from cravik.core.supposed import supposed_basket
from cravik.core.tax import Place
from cravik.links import services
from cravik.links.forms import AddressForm, DraftForm, NameForm, OfferForm
from cravik.links.item_line import PriceTooLow
from cravik.links.items import make_link_of_item
from cravik.links.models import Link
from cravik.links.queries import link_of
from cravik.links.terms import terms_of
from cravik.setup.access import SellerRequest, seller_page

#: The parts of an offer that can be changed on the bench, by their paths, and the editor of each.
EDITORS = {
    "lines[0].price": "price",
    "lines[0].name": "purpose",
    "delivery": "delivery",
    "tax": "tax",
}


@dataclass(frozen=True)
class BenchPhrase:
    """A phrase of the offer sentence, the name of the editor that it opens, if there is one, and the comma
    or full stop that must not be parted from it."""

    text: str
    editor: str
    after: str = ""


@dataclass(frozen=True)
class Bench:
    """What the bench shows of a draft."""

    phrases: tuple[BenchPhrase, ...]
    #: Where the slip's buyer is, where that matters.
    place: Place | None
    slip: Quote

    @classmethod
    def of(cls, offer: Offer, home: str) -> Bench:
        phrases: list[BenchPhrase] = []
        for phrase in sentence(offer):
            text = phrase.text
            if phrases and text[0] in ",;.":
                phrases[-1] = replace(phrases[-1], after=text[0])
                text = text[1:]
            phrases.append(BenchPhrase(text, EDITORS.get(phrase.about, "")))
        basket = supposed_basket(offer, timezone.localdate(), home)
        return cls(tuple(phrases), basket.destination, quote(offer, basket))


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
    form = DraftForm(request.POST) if request.method == "POST" else DraftForm.for_link(link)
    by_script = request.headers.get("Accept") == "application/json"
    status = 200
    if form.is_bound:
        status = 400
        if form.is_valid():
            try:
                link = services.change_draft(
                    link,
                    form.typed,
                    form.cleaned_data["revision"],
                    timezone.now(),
                )
            except PriceTooLow as refused:
                form.add_error("amount", str(refused))
            except services.ChangedElsewhere:
                status = 409
                form.add_error(
                    None,
                    "This link was changed in another tab or by someone else since you opened it here."
                    " What you typed is still below: copy what you need, then load the page again.",
                )
            else:
                if not by_script:
                    messages.success(request, "Saved.")
                    return redirect("links:bench", link.id)
                return JsonResponse(_saved(request, link))
    if by_script and form.is_bound:
        return JsonResponse({"errors": form.errors, "changed_elsewhere": status == 409}, status=status)
    return _show_bench(request, link, status, form=form)


def _saved(request: HttpRequest, link: Link) -> dict[str, object]:
    shown = Bench.of(link.offer, link.business.country)
    return {
        "revision": link.revision,
        "sentence": render(request, "links/_sentence.html", {"phrases": shown.phrases}).content.decode(),
        "slip": render(request, "links/_what_if.html", {"slip": shown.slip, "place": shown.place}).content.decode(),
        "unpublished": link.has_unpublished_changes,
    }


@require_POST
@seller_page
def rename(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = NameForm(request.POST)
    if form.is_valid():
        try:
            services.rename(link, form.cleaned_data["name"])
        except services.NameTaken as taken:
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
    price = link.offer.lines[0].price
    context = {
        "link": link,
        "bench": Bench.of(link.offer, link.business.country),
        "terms": terms_of(link),
        "item_price": link.item.price if link.item and link.item.price != price.amount else None,
        "form": DraftForm.for_link(link),
        "name_form": NameForm(initial={"name": link.name}),
        "address_form": AddressForm(initial={"slug": link.slug}),
    }
    return render(request, "links/bench.html", context | forms, status=status)


_STEPS = {
    "publish": (services.publish, "Published. This is what buyers see now."),
    "pause": (services.pause, "Paused. Who had the page open may still finish within 15 minutes."),
    "resume": (services.resume, "Live again."),
    "end": (services.end, "Ended. Who had the page open may still finish within 15 minutes."),
}


@require_POST
@seller_page
def step(request: SellerRequest, link_id: int, name: str) -> HttpResponse:
    """Publish, pause, resume or end the link."""
    link = link_or_404(request, link_id)
    act, said = _STEPS[name]
    try:
        act(link, timezone.now())
    except services.NotInThatState as refusal:
        messages.warning(request, f"Nothing was changed: the link is {refusal.state} now.")
        return redirect("links:bench", link.id)
    messages.success(request, said)
    return redirect("share:hand_out" if name in ("publish", "resume") else "links:bench", link.id)
