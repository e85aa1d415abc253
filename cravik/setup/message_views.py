"""The wording of messages: their list, and one of them with what its reader sees."""

from __future__ import annotations

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.clickjacking import xframe_options_sameorigin
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from cravik.people.access import SellerRequest, seller_page
from cravik.people.roles import Permission
from cravik.setup.default_views import CHANGED_ELSEWHERE
from cravik.setup.defaults import Subject, defaults_of
from cravik.setup.looks import look_of
from cravik.setup.messages.filling import as_text
from cravik.setup.messages.kinds import KINDS
from cravik.setup.messages.message import MessageKind, Words
from cravik.setup.messages.own_samples import samples_for
from cravik.setup.messages.wording import change_wording, compose, refusals, take_original, words_of
from cravik.setup.models import Wording
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.fields import LineField, TextAreaField
from cravik.ui.letters import letter_response

MAX_LENGTH = 5000


class WordingForm(forms.Form):
    subject = LineField(label="Subject", longest=150, missing="Write a subject.")
    heading = LineField(label="Heading", longest=150, missing="Write a heading.")
    body = TextAreaField(
        label="The message",
        longest=MAX_LENGTH,
        help_text="*Emphasis*, **strong**, lists and links are understood.",
        error_messages={"required": "Write the message."},
        widget=forms.Textarea(attrs={"rows": 14}),
    )
    seen = forms.IntegerField(widget=forms.HiddenInput, min_value=0)

    def __init__(self, *args: object, kind: MessageKind, **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # passed on as they came
        self.kind = kind
        for name in {"subject", "heading", "body"} - set(kind.parts):
            del self.fields[name]

    def clean(self) -> dict[str, object]:
        cleaned = super().clean() or {}
        for name in ("subject", "heading", "body"):
            for sentence in refusals(self.kind, cleaned.get(name, "")):
                self.add_error(name, sentence)
        return cleaned

    @property
    def words(self) -> Words:
        """What a valid form says."""
        return Words(*(self.cleaned_data.get(name, "") for name in ("subject", "heading", "body")))


@require_safe
@seller_page(Permission.SETUP)
def all_messages(request: SellerRequest) -> HttpResponse:
    own = set(Wording.objects.filter(business=request.business).values_list("kind", flat=True))
    rows = [(kind, kind.kind in own) for kind in KINDS.values()]
    return render(request, "setup/messages.html", {"rows": rows})


@require_http_methods(["GET", "HEAD", "POST"])
@seller_page(Permission.SETUP)
def message(request: SellerRequest, kind: str) -> HttpResponse:
    """One message: its wording, and what its placeholders stand for."""
    about = _kind_or_404(kind)
    own = Wording.objects.filter(business=request.business, kind=kind).first()
    words = words_of(request.business, kind)
    initial = {"subject": words.subject, "heading": words.heading, "body": words.body}
    form = WordingForm(request.POST or None, kind=about, initial=initial | {"seen": own.revision if own else 0})
    status = 200
    if request.method == "POST":
        status = 400
        if form.is_valid():
            try:
                change_wording(
                    request.business, kind, form.words, form.cleaned_data["seen"], timezone.now(), by=request.by
                )
            except ChangedElsewhere:
                status = 409
                messages.error(request, CHANGED_ELSEWHERE)
            else:
                messages.success(request, "Saved. Future messages use this wording.")
                return redirect("setup:message", kind)
    samples = samples_for(request.business, about)
    placeholders = [(each, as_text(samples[each.name])) for each in about.placeholders if not each.is_former]
    context = {"form": form, "kind": about, "is_own": own is not None, "placeholders": placeholders}
    return render(request, "setup/message.html", context, status=status)


@require_POST
@seller_page(Permission.SETUP)
def original(request: SellerRequest, kind: str) -> HttpResponse:
    _kind_or_404(kind)
    take_original(request.business, kind, timezone.now(), by=request.by)
    messages.success(request, "The original message is back.")
    return redirect("setup:message", kind)


@require_http_methods(["GET", "HEAD", "POST"])
@xframe_options_sameorigin
@seller_page(Permission.SETUP)
def sample(request: SellerRequest, kind: str) -> HttpResponse:
    """The message with sample values: as it holds, or as it is being typed."""
    about = _kind_or_404(kind)
    words = words_of(request.business, kind)
    if request.method == "POST":
        words = Words(*(request.POST.get(name, "")[:MAX_LENGTH] for name in ("subject", "heading", "body")))
    # Buyers' letters wear the look; the seller's own are plain.
    worn = {} if about.to == "you" else defaults_of(request.business).documents[Subject.LOOK]
    values = samples_for(request.business, about)
    return letter_response(compose(about, Words("", words.heading, words.body), values, look=look_of(worn)).html)


def _kind_or_404(kind: str) -> MessageKind:
    if kind not in KINDS:
        raise Http404
    return KINDS[kind]
