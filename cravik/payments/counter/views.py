"""The counter's own public page: its made-up cards, for trying."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from cravik.payments.counter.models import CounterCard


@require_safe
def cards(request: HttpRequest) -> HttpResponse:
    return render(request, "counter/cards.html", {"cards": CounterCard.objects.all()})
