"""Who may see a seller's page, and for which business.

``seller_page`` is the only door: behind it ``request.business`` is one that the user belongs to,
every query of the seller's side is made through it, and clocks show its time zone.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, cast

from django.contrib.auth.views import redirect_to_login
from django.http import Http404, HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.utils import timezone

from cravik.people.models import Business, User

Arguments = ParamSpec("Arguments")
_CHOSEN = "business"


class SellerRequest(HttpRequest):
    """A request by a signed-in user who acts for ``business``."""

    user: User
    business: Business


def seller_page(
    view: Callable[Concatenate[SellerRequest, Arguments], HttpResponseBase],
) -> Callable[Concatenate[HttpRequest, Arguments], HttpResponseBase]:
    """Let only members of a business in; others are led to sign in, to start, or to a choice."""

    @wraps(view)
    def door(request: HttpRequest, *args: Arguments.args, **kwargs: Arguments.kwargs) -> HttpResponseBase:
        if not request.user.is_authenticated:
            if not User.objects.exists():
                return redirect("people:start")
            return redirect_to_login(request.get_full_path())
        business = chosen_business(request)
        if business is None:
            return redirect("people:no_business")
        seller = cast(SellerRequest, request)
        seller.business = business
        with timezone.override(business.time_zone):
            response = view(seller, *args, **kwargs)
        response.headers.setdefault("Cache-Control", "private, no-cache")
        return response

    return cast(Callable[Concatenate[HttpRequest, Arguments], HttpResponseBase], door)


def keepers_page(
    view: Callable[Concatenate[SellerRequest, Arguments], HttpResponseBase],
) -> Callable[Concatenate[HttpRequest, Arguments], HttpResponseBase]:
    """Let only those in who look after the installation; for other members of a business it is not there."""

    @wraps(view)
    def door(request: SellerRequest, *args: Arguments.args, **kwargs: Arguments.kwargs) -> HttpResponseBase:
        if not request.user.is_superuser:
            raise Http404
        return view(request, *args, **kwargs)

    return seller_page(cast(Callable[Concatenate[SellerRequest, Arguments], HttpResponseBase], door))


def chosen_business(request: HttpRequest) -> Business | None:
    """The business that the signed-in user acts for: the one last chosen, else their first."""
    businesses = Business.objects.filter(membership__user=request.user.pk)
    chosen = businesses.filter(id=request.session[_CHOSEN]).first() if _CHOSEN in request.session else None
    return chosen or businesses.order_by("id").first()


def choose_business(request: HttpRequest, business: Business) -> None:
    """Act for ``business`` from now on; the caller has made sure that the user belongs to it."""
    request.session[_CHOSEN] = business.pk


def acts_for(request: HttpRequest, business_id: int) -> bool:
    """Whether whoever asks is signed in as a member of the business. Costs nothing without a cookie."""
    if not request.COOKIES or not request.user.is_authenticated:
        return False
    return Business.objects.filter(id=business_id, membership__user=request.user.pk).exists()
