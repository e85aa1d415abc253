"""The stock of an item, variant by variant."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from cravik.catalogue import stock as stock_services
from cravik.catalogue.stock import StockDraft, StockRefused, StockRow, stock_rows
from cravik.catalogue.views import item_or_404
from cravik.setup.access import SellerRequest, seller_page
from cravik.ui.fields import LineField, all_valid

_PAGE = 40
_MAX = 1_000_000


def _count(label: str) -> forms.IntegerField:
    return forms.IntegerField(
        label=label,
        required=False,
        min_value=-_MAX,
        max_value=_MAX,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "autocomplete": "off"}),
        error_messages={"invalid": "Write a whole number.", "max_value": f"The most is {_MAX:,}."},
    )


class StockForm(forms.Form):
    """One variant's row."""

    code = LineField(label="Code", longest=40, missing="", required=False)
    count = _count("In stock")
    seen_count = forms.IntegerField(widget=forms.HiddenInput, required=False)
    tell_at = _count("Warn me at")
    sells_beyond = forms.BooleanField(label="Keep selling at 0", required=False)

    def __init__(self, data: Any, row: StockRow) -> None:
        variant = row.variant
        names = ("code", "count", "tell_at", "sells_beyond")
        initial = {name: getattr(variant, name) for name in names} | {"seen_count": variant.count}
        super().__init__(data, prefix=f"row-{variant.pk}", initial=initial)
        self.row = row
        self.fields["code"].widget.attrs["placeholder"] = row.proposed_code

    def clean_tell_at(self) -> int | None:
        tell_at: int | None = self.cleaned_data["tell_at"]
        if tell_at is not None and tell_at < 0:
            raise forms.ValidationError("The least is 0.")
        return tell_at

    @property
    def draft(self) -> StockDraft:
        return StockDraft(self.row.variant.pk, **self.cleaned_data)


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page
def stock(request: SellerRequest, item_id: int) -> HttpResponse:
    item = item_or_404(request, item_id)
    page = Paginator(stock_rows(item), _PAGE).get_page(request.GET.get("page"))
    rows = [StockForm(request.POST or None, row) for row in page]
    status = 200
    if request.method == "POST":
        status = 400
        if all_valid(rows):
            try:
                stock_services.change_stock(item, [row.draft for row in rows])
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
@seller_page
def take_proposed_codes(request: SellerRequest, item_id: int) -> HttpResponse:
    given = stock_services.take_proposed_codes(item_or_404(request, item_id))
    messages.success(request, f"{given} {'code' if given == 1 else 'codes'} written. Change any of them below.")
    return redirect("catalogue:stock", item_id)
