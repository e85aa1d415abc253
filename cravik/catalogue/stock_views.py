"""The stock of an item, variant by variant."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue import stock as stock_services
from cravik.catalogue.stock import StockRefused, stock_rows
from cravik.catalogue.stock_forms import StockForm
from cravik.catalogue.views import item_or_404
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.ui.fields import all_valid

_PAGE = 40


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SEE, to_send=Permission.MAKE)
def stock(request: SellerRequest, item_id: int) -> HttpResponse:
    item = item_or_404(request, item_id)
    page = Paginator(stock_rows(item), _PAGE).get_page(request.GET.get("page"))
    rows = [StockForm(request.POST or None, row) for row in page]
    status = 200
    if request.method == "POST":
        status = 400
        if all_valid(rows):
            try:
                stock_services.change_stock(item, [row.draft for row in rows], timezone.now(), by=request.by)
            except StockRefused as refused:
                form = next((each for each in rows if each.row.variant.pk == refused.variant_id), rows[0])
                form.add_error(refused.field, str(refused))
            else:
                messages.success(request, "Saved.")
                return redirect(request.get_full_path())
    context = {
        "item": item,
        "page": page,
        "rows": rows,
        "any_code_missing": any(not row.variant.code for row in page),
    }
    return render(request, "catalogue/stock.html", context, status=status)


@require_POST
@seller_page(Permission.MAKE)
def take_proposed_codes(request: SellerRequest, item_id: int) -> HttpResponse:
    given = stock_services.take_proposed_codes(item_or_404(request, item_id), timezone.now(), by=request.by)
    messages.success(request, f"{given} {'code' if given == 1 else 'codes'} written. Change any of them below.")
    return redirect("catalogue:stock", item_id)
