"""Which host names are answered, and with what.

Cravik's own names answer everything. At a name of a business's own, once it is pointed here, its buyers find what is
its: any other address is not there. Whatever else is asked for is refused.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.http.request import split_domain_port, validate_host
from django.urls import ResolverMatch, resolve

from cravik.checkout.framing import WhoseLink, by_address, by_checkout, by_spot
from cravik.links.models import Waiting
from cravik.orders.models import Download
from cravik.setup.hosts import CHECK_PATH
from cravik.setup.models import HostName, TermsVersion
from cravik.share.models import Handle
from cravik.ui.loopback import was_asked_here
from cravik.ui.views import bad_request, not_found

#: What watches the installation asks on the machine itself, and need not know its names.
HEALTH_PATHS = ("/healthy/", "/healthy/deep/", "/metrics")
Owner = Callable[[Mapping[str, Any]], int | None]
#: What is nobody's: it shows what its address or its own token says.
_ANYBODYS = 0


def _of(whose: WhoseLink) -> Owner:
    """The business of what an address of a link's is of."""

    def owner(named: Mapping[str, Any]) -> int | None:
        found = whose(named)
        return found[0] if found else None

    return owner


def _of_handle(named: Mapping[str, Any]) -> int | None:
    return Handle.objects.filter(name=named["name"].lower()).values_list("business_id", flat=True).first()


def _of_download(named: Mapping[str, Any]) -> int | None:
    return Download.objects.filter(key=named["key"]).values_list("order__business_id", flat=True).first()


def _of_terms(named: Mapping[str, Any]) -> int | None:
    found = TermsVersion.objects.filter(key=named["key"])
    return found.values_list("terms__business_id", flat=True).first()


def _of_waiting(named: Mapping[str, Any]) -> int | None:
    return Waiting.objects.filter(key=named["key"]).values_list("link__business_id", flat=True).first()


def _of_named_business(named: Mapping[str, Any]) -> int:
    return int(named["business_id"])


def _of_anybody(_: Mapping[str, Any]) -> int:
    return _ANYBODYS


#: What buyers may ask for at a business's own name, with whose it is; a view that is not here is not there.
FOR_BUYERS: Mapping[str, Owner] = {
    "checkout:page": _of(by_address),
    "checkout:wait": _of(by_address),
    "checkout:confirm_waiting": _of_waiting,
    "checkout:card": _of(by_address),
    "checkout:slip": _of_anybody,
    "checkout:oembed": _of_anybody,  # which looks at whose the address is that it is asked about
    "checkout:started": _of_anybody,
    "checkout:fields": _of_anybody,
    "spot:page": _of(by_spot),
    "on_page:answer": _of(by_spot),
    "on_page:picture": _of(by_spot),
    "on_page:script": _of_anybody,
    "handle:page": _of_handle,
    "handle:sum": _of_handle,
    "pay:live": _of(by_address),
    "pay:again": _of(by_address),
    "confirmation:page": _of(by_checkout),
    "confirmation:call_off": _of(by_checkout),
    "confirmation:find": _of_anybody,
    "confirmation:download": _of_download,
    "confirmation:document": _of(by_checkout),
    "confirmation:document_file": _of(by_checkout),
    "confirmation:payments": _of(by_checkout),
    "confirmation:stop": _of(by_checkout),
    "confirmation:receipt": _of(by_checkout),
    "confirmation:invoice": _of(by_checkout),
    "purchases:page": _of_named_business,
    "purchases:open": _of_named_business,
    "purchases:data": _of_named_business,
    "purchases:wish": _of_named_business,
    "purchases:leave": _of_named_business,
    "purchases:withdraw": _of_named_business,
    "purchases:erase": _of_named_business,
    "terms:version": _of_terms,
    "looks:style": _of_anybody,
    "pictures:show": _of_anybody,
    "counter:bank": _of_anybody,
    "counter:cards": _of_anybody,
    "robots": _of_anybody,
    "favicon": _of_anybody,
    "security_txt": _of_anybody,
}


class HostMiddleware:
    """Refuses names that are not known, and keeps a business's own name to what is its."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        name, _ = split_domain_port(request.META.get("HTTP_HOST") or request.META.get("SERVER_NAME", ""))
        if request.path_info in HEALTH_PATHS and was_asked_here(request):
            return self.get_response(request)
        if name and validate_host(name, settings.CRAVIK_ALLOWED_HOSTS):
            return self.get_response(request)
        host = HostName.objects.filter(name=name.rstrip(".")).first() if name else None
        if host and request.path_info == CHECK_PATH:
            return HttpResponse(host.key, content_type="text/plain", headers={"Cache-Control": "no-store"})
        if host is None or host.pointed_at is None:
            return bad_request(request)
        response = self.get_response(request) if _is_theirs(request, host) else not_found(request)
        if "Strict-Transport-Security" in response:  # what holds for their other names is theirs to say
            response["Strict-Transport-Security"] = f"max-age={settings.SECURE_HSTS_SECONDS}"
        return response


def _is_theirs(request: HttpRequest, host: HostName) -> bool:
    if request.path_info.startswith(f"/{settings.STATIC_URL.strip('/')}/"):
        return True
    try:
        match: ResolverMatch = resolve(request.path_info)
    except Http404:
        # An address without the slash at its end is led to the one with it.
        try:
            match = resolve(f"{request.path_info}/")
        except Http404:
            return False
    owner = FOR_BUYERS.get(match.view_name)
    return owner is not None and owner(match.kwargs) in (_ANYBODYS, host.business_id)
