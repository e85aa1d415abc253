"""The installation itself, for those who look after it: how it is, its back-ups, and going back to one."""

from __future__ import annotations

from dataclasses import dataclass

from django.conf import settings
from django.contrib import messages
from django.http import FileResponse, Http404, HttpResponse, HttpResponseBase
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik import VERSION
from cravik.core.english import counted, listed
from cravik.people.access import SellerRequest, keepers_page
from cravik.people.guessing import guessed_right, may_guess
from cravik.upkeep.archive.by_hand import asked_last
from cravik.upkeep.archive.keeping import Rule
from cravik.upkeep.archive.shelf import Archive, archive_named, forget_known, remove, shelf
from cravik.upkeep.archive.taking import BY_HAND, DAILY, UPGRADE
from cravik.upkeep.archive.wanted import last_outcome, put_outcome_aside, want_restore
from cravik.upkeep.archive.words import figures_words
from cravik.upkeep.health import look_into
from cravik.upkeep.queue import enqueue_once
from cravik.upkeep.tasks import back_up_by_hand, verify_unknown

#: Seconds after which a page loads again that waits for something.
_LOOK_AGAIN = 4
_WHY = {DAILY: "daily", BY_HAND: "by hand", UPGRADE: "before an upgrade"}


@dataclass(frozen=True)
class Row:
    """An archive as the list shows it."""

    archive: Archive
    why: str
    holds: str


def _row(archive: Archive) -> Row:
    known = archive.known
    return Row(archive, _WHY[archive.why], figures_words(known.figures) if known and known.figures else "")


def rule_words() -> str:
    """Which daily back-ups are kept, such as ``the newest of each of the last 14 days, 8 weeks and 12 months``."""
    kept: Rule = settings.CRAVIK_BACKUPS_KEPT
    if not kept.days:
        return "all of them"
    numbers = (("day", kept.days), ("week", kept.weeks), ("month", kept.months))
    spans = [counted(number, span, f"{span}s") for span, number in numbers if number]
    return f"the newest of each of the last {listed(spans, 'and')}"


@require_safe
@keepers_page
def installation(request: SellerRequest) -> HttpResponse:
    """How it is, in words, and every back-up that there is."""
    checks = look_into(timezone.now())
    asked = asked_last(back_up_by_hand.module_path)
    context = {
        "version": VERSION,
        "checks": checks,
        "unwell": sum(not check.is_well for check in checks),
        "rows": [_row(archive) for archive in shelf()],
        "asked": asked,
        "outcome": last_outcome(),
        "rule": rule_words(),
        "folder": settings.CRAVIK_BACKUPS,
        "is_inside": settings.CRAVIK_BACKUPS.is_relative_to(settings.DATA_DIR),
        "is_locked": bool(settings.CRAVIK_BACKUP_LOCK),
    }
    response = render(request, "setup/installation.html", context)
    verifying = asked_last(verify_unknown.module_path)
    if any(each and each.is_under_way for each in (asked, verifying)):
        response["Refresh"] = str(_LOOK_AGAIN)
    return response


@require_POST
@keepers_page
def back_up(request: SellerRequest) -> HttpResponse:
    """Have one taken in the background."""
    enqueue_once(back_up_by_hand)
    return redirect("setup:installation")


@require_POST
@keepers_page
def put_aside(request: SellerRequest) -> HttpResponse:
    """What was said of the last restore has been read."""
    put_outcome_aside()
    return redirect("setup:installation")


@require_safe
@keepers_page
def download(request: SellerRequest, name: str) -> HttpResponseBase:
    """The file itself, to keep it elsewhere."""
    return FileResponse(_named(name).path.open("rb"), as_attachment=True, filename=name)


@require_POST
@keepers_page
def remove_backup(request: SellerRequest, name: str) -> HttpResponse:
    """Take one away that no rule takes away."""
    archive = _named(name)
    remove(archive)
    messages.success(request, f"{archive.name} is removed.")
    return redirect("setup:installation")


@require_POST
@keepers_page
def verify_backup(request: SellerRequest, name: str) -> HttpResponse:
    """Have it restored into an empty folder and compared once more, in the background."""
    forget_known(_named(name))
    enqueue_once(verify_unknown)
    return redirect("setup:installation")


@require_http_methods(["GET", "POST"])
@keepers_page
def restore(request: SellerRequest, name: str) -> HttpResponse:
    """Go back to one, after the password was typed once more."""
    archive = _named(name)
    fault, status = "", 200
    if request.method == "POST":
        if not may_guess(request, timezone.now()):
            return render(request, "people/locked_out.html", status=429)
        if request.user.check_password(request.POST.get("password", "")):
            guessed_right(request)
            want_restore(archive.name)
            response = render(request, "setup/restoring.html", status=202)
            response["Refresh"] = f"{_LOOK_AGAIN}; url={reverse('setup:installation')}"
            return response
        fault, status = "That is not your password.", 400
    context = {"row": _row(archive), "fault": fault, "newer": _newer_than(archive)}
    return render(request, "setup/restore.html", context, status=status)


def _newer_than(archive: Archive) -> str:
    """How long ago it was taken, such as ``2 days and 3 hours``."""
    minutes = int((timezone.now() - archive.taken_at).total_seconds() // 60)
    days, hours = minutes // 1440, minutes % 1440 // 60
    if not days and not hours:
        return counted(max(minutes, 1), "minute", "minutes")
    spans = [counted(days, "day", "days")] * bool(days) + [counted(hours, "hour", "hours")] * bool(hours)
    return listed(spans, "and")


def _named(name: str) -> Archive:
    archive = archive_named(name)
    if archive is None or archive.is_bare:
        raise Http404
    return archive
