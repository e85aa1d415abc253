"""The front page of Setup: what is missing, what strangers see, and the way to everything."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from cravik import VERSION
from cravik.core.english import counted
from cravik.core.text.countries import country_words
from cravik.people.access import SellerRequest, seller_page
from cravik.people.models import Business, User
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.defaults import Decision, Subject, decisions_of, defaults_of
from cravik.setup.forms import BusinessForm
from cravik.setup.hosts import address_base
from cravik.setup.messages.kinds import KINDS, RECEIPT
from cravik.setup.models import Look, Terms, Wording
from cravik.setup.readiness import steps_of
from cravik.setup.running_views import running_room_words
from cravik.setup.search import found_in_setup
from cravik.setup.services import change_business
from cravik.setup.words import TITLES, WORDS, default_words
from cravik.upkeep.health import backups
from cravik.upkeep.hooks import Hook


@dataclass(frozen=True)
class Room:
    """One subject of Setup: what it says now, and where it is changed."""

    title: str
    words: str
    address: str


#: What later apps have to decide for the whole business.
rooms_of_others: Hook[[Business], list[Room]] = Hook("cravik.setup.home_views.rooms_of_others")


@dataclass(frozen=True)
class Strangers:
    """What buyers and passers-by see of the business, and what of it looks private."""

    business: Business
    country: str
    worries: tuple[str, ...]


def strangers_of(business: Business, user: User) -> Strangers:
    """What strangers see, as ``user`` (who knows what is private) should look at it."""
    worries = []
    if business.support_email.casefold() == user.email.casefold():
        worries.append("The contact is the address that you sign in with. Everybody who opens a link sees it.")
    if user.name and user.name.casefold() in business.name.casefold():
        worries.append("The business's name holds your own name.")
    for where, text in _words_for_strangers(business):
        for what, private in (("the address that you sign in with", user.email), ("your own name", user.name)):
            if private and private.casefold() in text.casefold():
                worries.append(f"{where} holds {what}.")
    return Strangers(business, country_words(business.country), tuple(worries))


def _looks_words(business: Business) -> str:
    looks = list(Look.objects.filter(business=business))
    default = next((look.name for look in looks if look.is_default), "Cravik's default")
    return default if len(looks) < 2 else f"{default}, and {counted(len(looks) - 1, 'other look', 'other looks')}"


def _domain_words(business: Business) -> str:
    return address_base(business.pk).partition("//")[2]


def _messages_words(business: Business) -> str:
    own = Wording.objects.filter(business=business).count()
    return f"{len(KINDS)} messages, {own or 'none'} in your own words"


def _words_for_strangers(business: Business) -> Iterator[tuple[str, str]]:
    """What else of Setup strangers read, and where it stands."""
    yield "The text on statements", business.statement_text
    for look in Look.objects.filter(business=business):
        texts = (str(look.document.get(part, "")) for part in ("header", "footer", "socials"))
        yield f"The look “{look.name}”", " ".join(texts)
    for terms in Terms.objects.filter(business=business, archived=False).prefetch_related("versions"):
        yield f"“{terms.name}”", terms.version.words
    for own in Wording.objects.filter(business=business, kind=RECEIPT.kind):
        yield "Your receipt", f"{own.subject} {own.heading} {own.body}"


def _decision_words(subject: Subject, decision: Decision) -> str:
    return WORDS[subject](decision.defaults) + ("" if decision.is_made else " – not decided yet")


def _rooms_of_keepers(user: User) -> Iterator[Room]:
    """What only those have to decide who look after the installation."""
    if user.is_superuser:
        words = f"Cravik {VERSION}. Back-ups: {backups(timezone.now()).words}"
        yield Room("This installation", words, reverse("setup:installation"))


@require_safe
@seller_page(Permission.SETUP)
def home(request: SellerRequest) -> HttpResponse:
    """All of Setup on one page, and a search through it."""
    search = request.GET.get("q", "").strip()[:100]
    decisions = decisions_of(request.business)
    rooms = [
        Room(
            "The business",
            f"{request.business.name}, {country_words(request.business.country)}, {request.business.currency}",
            reverse("setup:business"),
        ),
        *(
            Room(
                TITLES[subject],
                _decision_words(subject, decisions[subject]),
                reverse("setup:decision", args=[subject]),
            )
            for subject in (Subject.TAX, Subject.DELIVERY, Subject.FEE)
        ),
        Room(
            TITLES[Subject.TERMS],
            default_words(request.business, Subject.TERMS, defaults_of(request.business)),
            reverse("setup:all_terms"),
        ),
        Room("Later payments", running_room_words(request.business), reverse("setup:running")),
        Room("Messages", _messages_words(request.business), reverse("setup:messages")),
        Room("Looks", _looks_words(request.business), reverse("setup:looks")),
        Room("Your own domain", _domain_words(request.business), reverse("setup:hosts")),
        *(room for rooms in rooms_of_others.call(request.business) for room in rooms),
        *_rooms_of_keepers(request.user),
    ]
    context = {
        "search": search,
        "found": found_in_setup(search, keeps=request.user.is_superuser),
        "rooms": rooms,
        "steps": steps_of(request.business),
        "strangers": strangers_of(request.business, request.user),
    }
    return render(request, "setup/home.html", context)


@require_http_methods(["GET", "POST"])
@seller_page(Permission.SETUP)
def business(request: SellerRequest) -> HttpResponse:
    """What the business is called, where it is, and what it sells in."""
    seen = _mark_of(request.business)
    form = BusinessForm(request.POST or None, instance=request.business)
    status = 200
    if request.method == "POST":
        status = 400
        if request.POST.get("seen") != seen:
            status, seen = 409, request.POST.get("seen", "")
            messages.error(request, CHANGED_ELSEWHERE)
        elif form.is_valid():
            change_business(form.save(commit=False), timezone.now(), by=request.by)
            messages.success(request, "Saved. Buyers see the new name and contact at once.")
            return redirect("setup:business")
        form.errors  # noqa: B018  # judged before the business is read anew, which it may have changed
        request.business.refresh_from_db()
    context = {"form": form, "seen": seen, "strangers": strangers_of(request.business, request.user)}
    return render(request, "setup/business.html", context, status=status)


def _mark_of(business: Business) -> str:
    """A mark of what is stored of the business: the same as long as nobody changes it."""
    values = [str(getattr(business, name)) for name in BusinessForm.Meta.fields]
    return hashlib.sha256("\0".join(values).encode()).hexdigest()[:16]
