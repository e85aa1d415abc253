"""An order's documents: as a page, as PDF and in their structured form, for sellers and for their buyer."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.checkout.models import Checkout
from cravik.core.documents.issued import read_content
from cravik.core.invoicing.structured import why_not
from cravik.core.text.document_sheet import sheet_of
from cravik.core.text.faults import all_fault_words
from cravik.orders.invoicing.asking import InvoiceForm, ask_for_invoice, may_ask
from cravik.orders.invoicing.issuing import issue_for_order
from cravik.orders.invoicing.pdf import file_name, pdf_of, xml_of
from cravik.orders.models import DocumentKind, IssuedDocument, Order
from cravik.orders.own_page import is_own
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission


@require_safe
@seller_page(Permission.ORDERS)
def document(request: SellerRequest, document_id: int) -> HttpResponse:
    """The document as its buyer sees it, and why it has no structured form where it has none."""
    found = _of_seller(request, document_id)
    content = read_content(found.content)
    reasons = why_not(content) if found.kind != DocumentKind.RECEIPT else ()
    context = {
        "document": found,
        "sheet": sheet_of(content),
        "reasons": all_fault_words(reasons),
        "is_structured": found.kind != DocumentKind.RECEIPT and not reasons,
        "corrections": list(found.corrections.all()),
    }
    return render(request, "orders/document.html", context)


@require_safe
@seller_page(Permission.ORDERS)
def document_file(request: SellerRequest, document_id: int, ending: str) -> HttpResponse:
    return _file(_of_seller(request, document_id), ending)


@require_POST
@seller_page(Permission.ORDERS)
def make_documents(request: SellerRequest, order_id: int) -> HttpResponse:
    """Make what documents an order lacks: one of before there were any, or an invoice after all."""
    orders = Order.objects.of(request.business).select_related("business", "checkout")
    order = get_object_or_404(orders, id=order_id)
    if "invoice" in request.POST and order.invoice_to is None:
        order.invoice_to = {}
        order.save(update_fields=["invoice_to"])
    before = IssuedDocument.objects.filter(order=order).count()
    made = len(issue_for_order(order, timezone.now())) - before
    if made:
        messages.success(request, "1 document was made." if made == 1 else f"{made} documents were made.")
    else:
        messages.info(request, "It has all its documents already.")
    return redirect(order.path)


@require_safe
def own_document(request: HttpRequest, reference: str, document_id: int, ending: str = "") -> HttpResponse:
    """The document for its buyer, who is known by the address as at their confirmation; else the way there."""
    checkout = get_object_or_404(Checkout.objects.select_related("business"), reference=reference)
    if not is_own(request, reference):
        return redirect("confirmation:page", reference)
    found = get_object_or_404(IssuedDocument.objects.filter(order__checkout=checkout), id=document_id)
    if ending:
        response = _file(found, ending)
    else:
        context = {
            "checkout": checkout,
            "document": found,
            "sheet": sheet_of(read_content(found.content)),
            "mark": request.GET.urlencode(),
            "is_structured": xml_of(found) is not None,
        }
        response = render(request, "orders/own_document.html", context)
    response["Cache-Control"] = "private, no-cache"
    response["X-Robots-Tag"] = "noindex"
    response["Referrer-Policy"] = "no-referrer"  # the address holds the mark
    return response


@require_safe
def own_receipt(request: HttpRequest, reference: str) -> HttpResponse:
    """The way to the receipt of what was paid last; it is made at once where nobody did it yet."""
    order = _own_order(request, reference)
    if order is None:
        return redirect("confirmation:page", reference)
    receipts = [each for each in issue_for_order(order, timezone.now()) if each.kind == DocumentKind.RECEIPT]
    if not receipts:
        raise Http404
    return redirect(_marked("document", request, reference, receipts[-1].pk))


@csrf_exempt  # the address is known to its buyer alone; no cookie is asked for
@require_http_methods(["GET", "HEAD", "POST"])
def own_invoice(request: HttpRequest, reference: str) -> HttpResponse:
    """Ask for an invoice, or the way to the one that there is."""
    order = _own_order(request, reference)
    if order is None:
        return redirect("confirmation:page", reference)
    if not may_ask(order):
        invoice = IssuedDocument.objects.filter(order=order, kind=DocumentKind.INVOICE).last()
        if invoice is None:
            raise Http404
        return redirect(_marked("document", request, reference, invoice.pk))
    form = InvoiceForm(order, request.POST if request.method == "POST" else None)
    if form.is_valid() and (made := ask_for_invoice(order, form.cleaned_data, timezone.now())):
        return redirect(_marked("document", request, reference, made.pk))
    context = {"checkout": order.checkout, "form": form, "mark": request.GET.urlencode()}
    response = render(request, "orders/ask_invoice.html", context, status=400 if form.errors else 200)
    response["Cache-Control"] = "private, no-cache"
    response["Referrer-Policy"] = "no-referrer"
    return response


def _own_order(request: HttpRequest, reference: str) -> Order | None:
    """The order of whoever is known as its buyer by the address."""
    if not is_own(request, reference):
        return None
    return get_object_or_404(Order.objects.select_related("business", "checkout"), checkout__reference=reference)


def _marked(name: str, request: HttpRequest, reference: str, *ids: int) -> str:
    return f"{reverse(f'confirmation:{name}', args=[reference, *ids])}?{request.GET.urlencode()}"


def _of_seller(request: SellerRequest, document_id: int) -> IssuedDocument:
    documents = IssuedDocument.objects.filter(business=request.business).select_related("order", "corrects")
    return get_object_or_404(documents, id=document_id)


def _file(document: IssuedDocument, ending: str) -> HttpResponse:
    content = pdf_of(document) if ending == "pdf" else xml_of(document)
    if content is None:
        raise Http404
    name = file_name(document, ending)
    response = HttpResponse(content, content_type="application/pdf" if ending == "pdf" else "application/xml")
    response["Content-Disposition"] = f'{"inline" if ending == "pdf" else "attachment"}; filename="{name}"'
    return response
