"""A link's name and address, which are changed on its bench."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from cravik.links.access import link_or_404
from cravik.links.bench.views import show_bench
from cravik.links.places import addresses
from cravik.links.places.forms import AddressForm, NameForm
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.saving import NameTaken


@require_POST
@seller_page(Permission.MAKE)
def rename(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = NameForm(request.POST)
    if form.is_valid():
        try:
            addresses.rename(link, form.cleaned_data["name"], timezone.now(), by=request.by)
        except NameTaken as taken:
            form.add_error("name", f"Another link has that name. “{taken.free}” is free.")
        else:
            messages.success(request, "Renamed.")
            return redirect("links:bench", link.id)
    return show_bench(request, link, 400, name_form=form)


@require_POST
@seller_page(Permission.MAKE)
def change_address(request: SellerRequest, link_id: int) -> HttpResponse:
    link = link_or_404(request, link_id)
    form = AddressForm(request.POST)
    if form.is_valid():
        try:
            addresses.change_address(link, form.cleaned_data["slug"], timezone.now(), by=request.by)
        except addresses.AddressTaken as taken:
            form.add_error("slug", f"That address is taken. “{taken.free}” is free.")
        else:
            messages.success(request, "Address changed. The old one keeps answering.")
            return redirect("links:bench", link.id)
    return show_bench(request, link, 400, address_form=form)
