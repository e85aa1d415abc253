"""Later payments in Setup."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from cravik.core.link.running import RunningRules
from cravik.core.pricing.schedule import DepositPlan, Every, RepeatPlan
from cravik.core.text.running_words import agreed_words, tries_words
from cravik.people.access import SellerRequest, seller_page
from cravik.people.models import Business
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.running import decide_running, rules_in, running_settings
from cravik.setup.running_forms import RunningForm
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.fields import parse_id

_MONTHLY, _DEPOSIT = RepeatPlan(Every(1, "month")), DepositPlan(rest_after_days=30)


def running_room_words(business: Business) -> str:
    """What Setup says of it, in a few words."""
    rules = rules_in(running_settings(business.pk))
    return f"Tried again {tries_words(rules.tries_after)}, then {'paused' if rules.then == 'pause' else 'ended'}"


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def running(request: SellerRequest) -> HttpResponse:
    """How later payments are collected and stopped, for whoever buys from then on."""
    decided = running_settings(request.business.pk)
    before, seen, status = rules_in(decided), decided.revision, 200
    form = RunningForm(decided, request.POST if request.method == "POST" else None)
    if form.is_bound:
        status, seen = 400, parse_id(request.POST.get("seen", ""))
        if form.is_valid():
            try:
                decide_running(form.save(commit=False), seen, timezone.now(), by=request.by)
            except ChangedElsewhere:
                status = 409
                messages.error(request, CHANGED_ELSEWHERE)
            else:
                messages.success(request, "Saved. It holds for whoever buys from now on.")
                return redirect("setup:running")
    context = {"form": form, "seen": seen, "examples": _examples(before)}
    return render(request, "setup/running.html", context, status=status)


def _examples(rules: RunningRules) -> list[tuple[str, str]]:
    """What buyers read beside the button."""
    return [
        ("What repeats", agreed_words(_MONTHLY, rules)),
        ("A deposit and its rest", agreed_words(_DEPOSIT, rules)),
    ]
