"""A picture that comes with a form which may have to be sent again: the page carries a signed note of it until then."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core import signing

from cravik.people.access import SellerRequest
from cravik.ui.fields import clean_line
from cravik.ui.photo import PhotoRefused
from cravik.ui.picture_files import keep_picture


def picture_sent(request: SellerRequest, form: forms.Form, kept: dict[str, Any] | None) -> dict[str, Any] | None:
    """The picture of the form's field ``picture``: the file that came along, the one that came before, or ``kept``.

    What is wrong with a file is told at its field.
    """
    form.is_valid()
    file = form.cleaned_data.get("picture")
    if file:
        try:
            return keep_picture(file, file.size or 0)
        except PhotoRefused as refused:
            form.add_error("picture", f"“{clean_line(file.name or '')[:60]}” was not taken. {refused}")
    try:
        sent: dict[str, Any] = signing.loads(request.POST.get("kept_picture", ""), salt=_salt(request))
    except signing.BadSignature:
        return kept
    return sent


def note_of(request: SellerRequest, picture: dict[str, Any] | None) -> str:
    """What the page carries in its field ``kept_picture`` until the form is kept."""
    return signing.dumps(picture, salt=_salt(request)) if picture else ""


def _salt(request: SellerRequest) -> str:
    """What is carried by one business's page is of no use on another's."""
    return f"cravik.share.picture.{request.business.pk}"
