"""Host names of a business's own: the list, and what is done with each."""

from __future__ import annotations

from django import forms
from django.conf import settings
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from cravik.core.link.host_names import host_name_in
from cravik.core.text.faults import fault_words
from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup import hosts as services
from cravik.setup.models import HostName
from cravik.setup.refusals import HOSTS

_NOT_POINTED = {
    "unreachable": "Nobody answers at {name} yet. A new record can take some hours to be known everywhere.",
    "another": "{name} is answered by another server. Point it here, and check again.",
}


class HostForm(forms.Form):
    """A name to be reached at."""

    name = forms.CharField(
        label="Name",
        max_length=300,
        widget=forms.TextInput(
            attrs={
                "inputmode": "url",
                "autocomplete": "off",
                "autocapitalize": "none",
                "spellcheck": "false",
                "placeholder": "pay.your-name.example",
            }
        ),
        error_messages={"required": "Write a name such as pay.your-name.example."},
    )

    def clean_name(self) -> str:
        name = host_name_in(str(self.cleaned_data["name"]))
        if fault := services.host_fault(name):
            raise forms.ValidationError(fault_words(fault, HOSTS))
        return name


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def hosts(request: SellerRequest) -> HttpResponse:
    """The names, and adding one."""
    form = HostForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            host = services.name_host(request.business, form.cleaned_data["name"], timezone.now(), by=request.by)
        except services.HostTaken:
            form.add_error("name", "Another business here has that name.")
        except services.TooManyHosts:
            form.add_error("name", f"You have {services.MAX_HOSTS} names, the most there can be.")
        else:
            messages.success(request, f"Now point {host.name} here, then check.")
            return redirect("setup:hosts")
    ours = services.base_at("")
    context = {
        "form": form,
        "hosts": HostName.objects.filter(business=request.business),
        "ours": ours,
        "our_name": ours.partition("//")[2].partition(":")[0],
        "is_https": settings.CRAVIK_HTTPS,
        "lapses_after": services.LAPSES_AFTER.days,
    }
    return render(request, "setup/hosts.html", context, status=400 if form.errors else 200)


@require_POST
@seller_page(Permission.SETUP)
def host_act(request: SellerRequest, host_id: int, name: str) -> HttpResponse:
    """Check that the name is pointed here, make it the main one, or forget it."""
    host = get_object_or_404(HostName, business=request.business, id=host_id)
    if name == "check":
        if missing := services.see_whether_pointed(host, timezone.now()):
            messages.warning(request, _NOT_POINTED[missing].format(name=host.name))
        else:
            messages.success(request, f"{host.name} is answered from now on.")
    elif name == "main":
        services.make_main(host, timezone.now(), by=request.by)
        messages.success(request, f"Links, codes and letters carry {host.name} from now on. Others keep working.")
    else:
        services.forget_host(host, timezone.now(), by=request.by)
        messages.success(
            request, f"{host.name} is not answered any more. What is printed or pasted with it leads nowhere."
        )
    return redirect("setup:hosts")
