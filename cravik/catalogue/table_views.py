"""The whole catalogue as a spreadsheet, out and in."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse, StreamingHttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from cravik.catalogue import bring_in
from cravik.catalogue.models import TableUpload
from cravik.catalogue.queries import whole_items_of
from cravik.catalogue.table import COLUMNS, MAX_ROWS, table_row
from cravik.setup.access import SellerRequest, seller_page
from cravik.ui.fields import clean_line
from cravik.ui.spreadsheets import TableRefused, csv_response, read_table

_MAX_BYTES = 8_000_000
_SHOWN = 100


@require_safe
@seller_page
def file(request: SellerRequest) -> StreamingHttpResponse:
    """Every item, those put away too, as it can be brought in again."""
    items = whole_items_of(request.business)
    return csv_response("catalogue.csv", COLUMNS, (table_row(item) for item in items))


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def table(request: SellerRequest) -> HttpResponse:
    """Where the catalogue is taken out, and a table brought in."""
    refusal = ""
    if request.method == "POST":
        given = request.FILES.get("table")
        try:
            if given is None:
                raise TableRefused("Choose a file first.")
            if (given.size or 0) > _MAX_BYTES:
                raise TableRefused(
                    f"It has {(given.size or 0) / 1e6:.0f} MB; the most is {_MAX_BYTES // 1_000_000} MB."
                )
            read = read_table(given.read(), MAX_ROWS)
            if unknown := [name for name in read.head if name and name not in {*COLUMNS, "price"}]:
                names = ", ".join(f"“{name[:40]}”" for name in unknown[:5])
                raise TableRefused(f"The first row names columns that are not known: {names}.")
            if "name" not in read.head or len(set(read.head)) < len(read.head):
                raise TableRefused("The first row names each column once, “name” among them.")
        except TableRefused as refused:
            refusal = str(refused)
        else:
            name = clean_line(given.name or "")[:100] or "table.csv"
            upload = bring_in.keep_table(request.business, name, read, timezone.now())
            return redirect("catalogue:table_plan", upload.pk)
    context = {"refusal": refusal, "columns": COLUMNS, "most_rows": MAX_ROWS}
    return render(request, "catalogue/table.html", context, status=400 if refusal else 200)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def plan(request: SellerRequest, upload_id: int) -> HttpResponse:
    """What bringing it in would do; a post does it, or forgets it."""
    upload = TableUpload.objects.select_related("business").filter(business=request.business, id=upload_id).first()
    if upload is None:
        raise Http404
    status = 200
    if request.method == "POST":
        if request.POST.get("act") == "forget":
            upload.delete()
            messages.success(request, "Forgotten. Nothing was changed.")
            return redirect("catalogue:table")
        try:
            done = bring_in.bring_in(upload, timezone.now(), good_rows_only=request.POST.get("act") == "good")
        except bring_in.FaultsLeft:
            status = 409
        else:
            messages.success(
                request, f"{len(done.new)} made, {len(done.changed)} changed, {done.unchanged} as they were."
            )
            return redirect("catalogue:items")
    planned = bring_in.plan_for(upload)
    context = {
        "upload": upload,
        "plan": planned,
        "faults": planned.faults[:_SHOWN],
        "more_faults": max(0, len(planned.faults) - _SHOWN),
        "new": [row.draft.name for row in planned.new[:_SHOWN]],
        "changed": [row.draft.name for _, row in planned.changed[:_SHOWN]],
    }
    return render(request, "catalogue/table_plan.html", context, status=status)
