"""The bench of a link: shown whole, saved by itself as it is filled in."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from cravik.catalogue.queries import names_like
from cravik.core.text.said.examples import OF_CHANGES
from cravik.links.access import link_or_404
from cravik.links.bench.acting import ActRefused
from cravik.links.bench.saving import Act, DraftChanged, change_parts
from cravik.links.bench.sheet import BenchSheet, Panel
from cravik.links.bench.shown import bench_of
from cravik.links.items.following import item_prices
from cravik.links.items.line import PriceTooLow
from cravik.links.models import Link
from cravik.links.places.forms import AddressForm, NameForm
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.saving import ChangedElsewhere

_CHANGED_ELSEWHERE = (
    "This link was changed in another tab or by someone else since you opened it here."
    " What you typed is still below: copy what you need, then load the page again."
)
#: What is told beside the parts, by the names under which the page has it.
_PIECES = {
    "sentence": "links/_sentence.html",
    "decided": "links/bench/_decided.html",
    "addable": "links/bench/_addable.html",
    "missing": "links/_missing.html",
    "keeps": "links/bench/_keeps.html",
    "advice": "links/bench/_advice.html",
    "todos": "links/bench/_todos.html",
    "history": "links/bench/_history.html",
    "unpublished": "links/bench/_unpublished.html",
}
#: So many names are offered while one is typed.
MAX_NAMES = 20


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def bench(request: SellerRequest, link_id: int) -> HttpResponse:
    """The bench. A post saves the draft; one from the page's own script is answered in JSON."""
    link = link_or_404(request, link_id)
    if request.method != "POST":
        return show_bench(request, link, 200)
    by_script = request.headers.get("Accept") == "application/json"
    sheet = BenchSheet(link, request.POST, is_whole=not by_script)
    status = 400
    if sheet.is_valid():
        try:
            changed = change_parts(
                link, sheet.changes(), sheet.revision, timezone.now(), _act_of(request), by=request.by
            )
        except PriceTooLow as refused:
            sheet.refuse("price", refused.line, str(refused))
        except ActRefused as refusal:
            sheet.trouble = refusal.by_field
        except ChangedElsewhere:
            status = 409
            sheet.trouble = {"__all__": [_CHANGED_ELSEWHERE]}
        else:
            return _saved(request, changed, sheet, by_script=by_script)
    if by_script:
        return JsonResponse({"errors": sheet.errors(), "changed_elsewhere": status == 409}, status=status)
    return show_bench(request, link, status, sheet=sheet)


def _act_of(request: HttpRequest) -> Act | None:
    """The act that was pressed: its name and, after a colon, the line."""
    name, _, line = request.POST.get("act", "").partition(":")
    return Act(name, line, request.POST) if name else None


def _saved(request: HttpRequest, changed: DraftChanged, sent: BenchSheet, *, by_script: bool) -> HttpResponse:
    link = changed.link
    if not by_script:
        messages.success(request, f"Saved. {changed.cleared}".strip())
        return redirect(f"{reverse('links:bench', args=[link.pk])}{f'#panel-{changed.opens}' if changed.opens else ''}")
    if changed.cleared:
        messages.warning(request, changed.cleared)  # for the page, which the script reloads
    sheet = BenchSheet(link)
    bench = bench_of(link, sheet)
    context = {"bench": bench, "table": bench.what_if, "link": link, "sheet": sheet}
    reshaped = set(sent.reshaped)
    return JsonResponse(
        {
            "pieces": {
                **{name: render_to_string(template, context, request) for name, template in _PIECES.items()},
                **_pieces_of_parts(sheet, {part.editor for part in sent.all_parts() if part.is_sent}),
            },
            "panels": {
                panel.name: _panel_as_html(request, panel, context)
                for panel in sheet.all_panels()
                if panel.name in reshaped
            },
            "revision": link.revision,
            "unpublished": link.has_unpublished_changes,
            # Other lines are other fields: the page is loaded again, and shows what was done.
            "reload": bool(changed.cleared) or "act" in request.POST,
            "opens": changed.opens,
        }
    )


def _pieces_of_parts(sheet: BenchSheet, sent: set[str]) -> dict[str, str]:
    """What is told beside the fields: of the whole link, and of those parts of lines that were sent."""
    return {
        f"{name}-{part.line.key}" if part.is_of_line else name: render_to_string(template, {"part": part})
        for part in sheet.all_parts()
        if part.editor in sent or not part.is_of_line
        for name, template in part.pieces.items()
    }


def _panel_as_html(request: HttpRequest, panel: Panel, context: dict[str, Any]) -> str:
    return render_to_string("links/bench/_panel_fields.html", {**context, "panel": panel}, request)


@require_safe
@seller_page(Permission.MAKE)
def names(request: SellerRequest) -> HttpResponse:
    """Names of items, and of links where they are asked for, that hold what was typed, once it is two letters."""
    typed = request.GET.get("typed", "").strip()[:120]
    found = names_like(request.business, typed, MAX_NAMES) if len(typed) > 1 else []
    if len(typed) > 1 and request.GET.get("links"):
        of_links = Link.objects.of(request.business).filter(name__icontains=typed).order_by("name")
        found = list(of_links.values_list("name", flat=True)[:MAX_NAMES]) + found
    return JsonResponse({"names": found})


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
        "bench": (bench := bench_of(link, sheet)),
        "table": bench.what_if,
        "item_prices": item_prices(link),
        "say_examples": OF_CHANGES,
        "item_names": names_like(request.business, "", MAX_NAMES),
        "name_form": name_form or NameForm(initial={"name": link.name}),
        "address_form": address_form or AddressForm(initial={"slug": link.slug}),
    }
    return render(request, "links/bench.html", context, status=status)
