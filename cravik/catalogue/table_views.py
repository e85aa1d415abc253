"""The whole catalogue as a spreadsheet, out and in."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse, JsonResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from cravik.catalogue import table_import
from cravik.catalogue.models import TableUpload
from cravik.catalogue.queries import whole_items_of
from cravik.catalogue.table import COLUMNS, MAX_ROWS, table_row
from cravik.catalogue.table_work import progress_of_table, start_import
from cravik.people.access import SellerRequest, seller_page
from cravik.people.models import User
from cravik.people.roles import Permission
from cravik.ui.fields import clean_line
from cravik.ui.spreadsheets import TableRefused, csv_response, read_table

_MAX_BYTES = 8_000_000


@require_safe
@seller_page(Permission.EXPORT)
def file(request: SellerRequest) -> StreamingHttpResponse:
    """Every item, archived ones too, as it can be brought in again."""
    items = whole_items_of(request.business)
    return csv_response("catalogue.csv", COLUMNS, (table_row(item) for item in items))


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def table(request: SellerRequest) -> HttpResponse:
    """Where the catalogue is taken out, and a table brought in."""
    refusal = ""
    if request.method == "POST":
        given = request.FILES.get("table")
        try:
            if given is None:
                raise table_import.ImportRefused.of("table_missing")
            if (given.size or 0) > _MAX_BYTES:
                sizes = {"megabytes": (given.size or 0) / 1e6, "most": _MAX_BYTES // 1_000_000}
                raise table_import.ImportRefused.of("table_too_many_bytes", **sizes)
            read = read_table(given.read(), MAX_ROWS)
            if unknown := [name for name in read.head if name and name not in {*COLUMNS, "price"}]:
                raise table_import.ImportRefused.of("columns_unknown", names=tuple(name[:40] for name in unknown[:5]))
            if "name" not in read.head or len(set(read.head)) < len(read.head):
                raise table_import.ImportRefused.of("columns_not_once")
            name = clean_line(given.name or "")[:100] or "table.csv"
            upload = table_import.keep_table(request.business, name, read, timezone.now())
        except TableRefused as refused:
            refusal = str(refused)
        else:
            start_import(upload)
            return redirect("catalogue:table_plan", upload.pk)
    waiting = TableUpload.objects.filter(business=request.business).defer("rows").first()
    context = {"refusal": refusal, "waiting": waiting, "columns": COLUMNS, "most_rows": MAX_ROWS}
    return render(request, "catalogue/table.html", context, status=400 if refusal else 200)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.MAKE)
def plan(request: SellerRequest, upload_id: int) -> HttpResponse:
    """How far it is; what bringing it in would do; what was done. A post writes it, or forgets it."""
    upload = _upload_or_404(request, upload_id)
    if request.method == "POST" and not upload.is_busy and (leads_to := _decide(request, upload)):
        return leads_to
    status = 409 if request.method == "POST" else 200
    progress = progress_of_table(upload) if upload.is_busy else None
    context = {"upload": upload, "plan": upload.summary, "progress": progress}
    return render(request, "catalogue/table_plan.html", context, status=status)


@require_safe
@seller_page(Permission.MAKE)
def progress(request: SellerRequest, upload_id: int) -> JsonResponse:
    """How far the work on a table is, for the page that shows it."""
    upload = _upload_or_404(request, upload_id)
    return JsonResponse({"busy": upload.is_busy, **progress_of_table(upload)._asdict()})


def _upload_or_404(request: SellerRequest, upload_id: int) -> TableUpload:
    uploads = TableUpload.objects.select_related("business").filter(business=request.business)
    return get_object_or_404(uploads, id=upload_id)


def _decide(request: SellerRequest, upload: TableUpload) -> HttpResponse | None:
    """Forget the table or let it be written, by the button that was pressed; None where neither can be."""
    if request.POST.get("act") == "forget":
        upload.delete()
        messages.success(request, "Discarded. Nothing was changed.")
        return redirect("catalogue:table")
    if upload.state == TableUpload.State.READY:
        _write(upload, request.user, good_rows_only=request.POST.get("act") == "good")
        if upload.state == TableUpload.State.READY:
            return None
        if upload.state == TableUpload.State.DONE:  # a short one
            done = upload.summary
            made = f"{done['new']} added, {done['changed']} changed, {done['unchanged']} unchanged."
            messages.success(request, made)
            upload.delete()
            return redirect("catalogue:items")
    return redirect("catalogue:table_plan", upload.pk)


def _write(upload: TableUpload, by: User, *, good_rows_only: bool) -> None:
    """Let it be written, unless faults are left and nobody said that they may be."""
    if upload.summary.get("faulty_rows") and not good_rows_only:
        return
    upload.state, upload.good_rows_only, upload.confirmed_by = TableUpload.State.WRITING, good_rows_only, by
    ready = TableUpload.objects.filter(id=upload.pk, state=TableUpload.State.READY)
    if ready.update(state=upload.state, good_rows_only=good_rows_only, confirmed_by=by):
        start_import(upload)
