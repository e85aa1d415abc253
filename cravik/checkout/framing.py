"""Buyers' pages on pages of others: which sites may show those of a link in a frame."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import wraps
from typing import Any, TypeVar, cast

from django.http import HttpRequest, HttpResponse

from cravik.checkout.models import Checkout
from cravik.links.models import Address, Spot
from cravik.links.places.sites import framing_sources
from cravik.ui.framing import is_on_page, let_frame

_View = TypeVar("_View", bound=Callable[..., HttpResponse])
#: The ids of the business and the link that an address is of.
WhoseLink = Callable[[Mapping[str, Any]], tuple[int, int] | None]


def by_address(named: Mapping[str, Any]) -> tuple[int, int] | None:
    """Of a readable address."""
    return Address.objects.filter(slug=named["slug"]).values_list("link__business_id", "link_id").first()


def by_spot(named: Mapping[str, Any]) -> tuple[int, int] | None:
    """Of a spot's short code."""
    return Spot.objects.filter(code=named["code"].upper()).values_list("link__business_id", "link_id").first()


def by_checkout(named: Mapping[str, Any]) -> tuple[int, int] | None:
    """Of what one buyer was about to pay."""
    found = Checkout.objects.filter(reference=named["reference"].upper())
    return found.values_list("business_id", "lines__link_id").first()


def framed_where_allowed(whose_link: WhoseLink) -> Callable[[_View], _View]:
    """Let the sites that are allowed for the link show the view in a frame, where its address says that it stands on a
    page of others. Everywhere else nothing changes."""

    def framing(view: _View) -> _View:
        @wraps(view)
        def framed(request: HttpRequest, **named: Any) -> HttpResponse:
            response = view(request, **named)
            if is_on_page(request) and (of := whose_link(named)):
                let_frame(response, framing_sources(*of))
            return response

        return cast(_View, framed)

    return framing
