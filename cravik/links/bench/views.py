"""The bench of a link: shown whole, saved by itself as it is filled in."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.links.access import link_or_404
from cravik.links.bench.saving import DraftChanged, change_parts
from cravik.links.bench.sheet import BenchSheet
from cravik.links.bench.shown import bench_of
from cravik.links.forms import AddressForm, NameForm
from cravik.links.item_line import PriceTooLow
from cravik.links.items import item_prices
from cravik.links.models import Link
from cravik.setup.access import SellerRequest, seller_page
from cravik.setup.saving import ChangedElsewhere

_CHANGED_ELSEWHERE = (
    "This link was changed in another tab or by someone else since you opened it here."
    " What you typed is still below: copy what you need, then load the page again."
)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def bench(request: SellerRequest, link_id: int) -> HttpResponse:
    """The bench. A post saves the draft; one from the page's own script is answered in JSON."""
    link = link_or_404(request, link_id)
    if request.method != "POST":
        return show_bench(request, link, 200)
    sheet = BenchSheet(link, request.POST)
    by_script = request.headers.get("Accept") == "application/json"
    status = 400
    if sheet.is_valid():
        try:
            changed = change_parts(link, sheet.changes(), sheet.revision, timezone.now())
        except PriceTooLow as refused:
            sheet.refuse("price", refused.line, str(refused))
        except ChangedElsewhere:
            status = 409
            sheet.trouble.append(_CHANGED_ELSEWHERE)
        else:
            return _saved(request, changed, by_script=by_script)
    if by_script:
        return JsonResponse({"errors": sheet.errors(), "changed_elsewhere": status == 409}, status=status)
    return show_bench(request, link, status, sheet=sheet)


def _saved(request: HttpRequest, changed: DraftChanged, *, by_script: bool) -> HttpResponse:
    link = changed.link
    if not by_script:
        messages.success(request, f"Saved. {changed.cleared}".strip())
        return redirect("links:bench", link.pk)
    if changed.cleared:
        messages.warning(request, changed.cleared)  # for the page, which the script reloads
    context = {"bench": bench_of(link), "link": link}
    pieces = {"sentence": "_sentence", "slip": "_what_if", "missing": "_missing"}
    return JsonResponse(
        {
            **{name: render_to_string(f"links/{template}.html", context) for name, template in pieces.items()},
            "revision": link.revision,
            "unpublished": link.has_unpublished_changes,
            "cleared": changed.cleared,
        }
    )


def show_bench(
    request: SellerRequest,
    link: Link,
    status: int,
    *,
    sheet: BenchSheet | None = None,
    name_form: NameForm | None = None,
    address_form: AddressForm | None = None,
) -> HttpResponse:
    """The bench, with those of its forms that were sent, as they were sent."""
    sheet = sheet or BenchSheet(link)
    context = {
        "link": link,
        "sheet": sheet,
        "bench": bench_of(link, sheet),
        "item_prices": item_prices(link),
        "name_form": name_form or NameForm(initial={"name": link.name}),
        "address_form": address_form or AddressForm(initial={"slug": link.slug}),
    }
    return render(request, "links/bench.html", context, status=status)
