"""Who may see a seller's page, and for which business.

``seller_page`` is the only door: behind it ``request.business`` is one that the user belongs to and in which they may
do what the page needs, every query of the seller's side is made through it, and clocks show its time zone.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, cast

from django.contrib.auth.views import redirect_to_login
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import redirect
from django.utils import timezone

from cravik.people.actors import Actor, member
from cravik.people.models import Business, Membership, User
from cravik.people.roles import PERMISSIONS, Permission

Arguments = ParamSpec("Arguments")
_CHOSEN = "business"
_READING = ("GET", "HEAD", "OPTIONS")


class SellerRequest(HttpRequest):
    """A request by a signed-in user who acts for ``business``, in which they have these ``permissions``."""

    user: User
    by: Actor
    business: Business
    permissions: frozenset[Permission]


_View = Callable[Concatenate[SellerRequest, Arguments], HttpResponseBase]
_Door = Callable[Concatenate[HttpRequest, Arguments], HttpResponseBase]


def seller_page(
    needs: Permission, *, to_send: Permission | None = None
) -> Callable[[_View[Arguments]], _Door[Arguments]]:
    """Let only members of a business in who have the permission that the page ``needs``, and the one that it takes
    ``to_send`` it where that is another. Who is nobody yet is led to sign in or to start."""

    def with_door(view: _View[Arguments]) -> _Door[Arguments]:
        return _door(view, needs, to_send or needs)

    return with_door


def members_page(view: _View[Arguments]) -> _Door[Arguments]:
    """Let every member of a business in, whatever their role: what is here is about nobody but themselves."""
    return _door(view, None, None)


def keepers_page(view: _View[Arguments]) -> _Door[Arguments]:
    """Let only those in who look after the installation; for other members of a business it is not there."""

    @wraps(view)
    def door(request: SellerRequest, *args: Arguments.args, **kwargs: Arguments.kwargs) -> HttpResponseBase:
        if not request.user.is_superuser:
            raise Http404
        return view(request, *args, **kwargs)

    return seller_page(Permission.SETUP)(cast(_View[Arguments], door))


def _door(view: _View[Arguments], to_read: Permission | None, to_send: Permission | None) -> _Door[Arguments]:
    @wraps(view)
    def door(request: HttpRequest, *args: Arguments.args, **kwargs: Arguments.kwargs) -> HttpResponseBase:
        if not request.user.is_authenticated:
            if not User.objects.exists():
                return redirect("people:start")
            return redirect_to_login(request.get_full_path())
        membership = _chosen_membership(request)
        if membership is None:
            return redirect("people:no_business")
        seller = cast(SellerRequest, request)
        seller.business, seller.permissions = membership.business, PERMISSIONS[membership.role]
        seller.by = member(seller.user)
        needed = to_read if request.method in _READING else to_send
        if needed and needed not in seller.permissions:
            raise PermissionDenied
        with timezone.override(seller.business.time_zone):
            response = view(seller, *args, **kwargs)
        response.headers.setdefault("Cache-Control", "private, no-cache")
        return response

    door.permissions = frozenset({to_read, to_send} - {None})  # type: ignore[attr-defined]
    return cast(_Door[Arguments], door)


def _chosen_membership(request: HttpRequest) -> Membership | None:
    """That in the business that the signed-in user acts for: the one last chosen, else their first."""
    found = Membership.objects.filter(user=request.user.pk).select_related("business")
    chosen = found.filter(business=request.session[_CHOSEN]).first() if _CHOSEN in request.session else None
    return chosen or found.order_by("business").first()


def choose_business(request: HttpRequest, business: Business) -> None:
    """Act for ``business`` from now on; the caller has made sure that the user belongs to it."""
    request.session[_CHOSEN] = business.pk


def acts_for(request: HttpRequest, business_id: int) -> bool:
    """Whether whoever asks is signed in as a member of the business. Costs nothing without a cookie."""
    if not request.COOKIES or not request.user.is_authenticated:
        return False
    return Business.objects.filter(id=business_id, membership__user=request.user.pk).exists()
