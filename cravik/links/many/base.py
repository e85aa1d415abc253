"""What every act on many links is made of."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, ClassVar

from django import forms

from cravik.core.text.refusal import Refusal
from cravik.links.items.line import PriceTooLow
from cravik.links.life import lifecycle
from cravik.links.models import Link
from cravik.links.refusals import LEFT
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.saving import ChangedElsewhere


class NotDone(Refusal):
    """The link is left as it is."""

    words = LEFT


@dataclass(frozen=True)
class Preview:
    """What the act would do to a link, in words, or why it leaves it as it is."""

    link: Link
    words: str
    is_left: bool = False


class ManyAct(forms.Form):
    """An act with what has to be said first. ``verb`` is its button, ``done`` what is said of each that was changed."""

    name: ClassVar[str]
    title: ClassVar[str]
    verb: ClassVar[str]
    done: ClassVar[str]
    #: Whether it hands something out at once and changes nothing.
    is_harmless: ClassVar[bool] = False

    def __init__(self, business: Business, now: datetime, data: Any = None) -> None:
        self.business, self.now = business, now
        super().__init__(data)

    def words_of(self, link: Link) -> str:
        """What it would do to the link. Raises ``NotDone``."""
        raise NotImplementedError

    def do(self, link: Link, by: Actor) -> None:
        """Do it, as ``words_of`` says. May raise as the services do that it calls; see ``apply``."""
        raise NotImplementedError

    def apply(self, link: Link, by: Actor) -> None:
        """Do it, if it can be done to the link. Raises ``NotDone`` with the reason."""
        self.words_of(link)
        try:
            self.do(link, by)
        except ChangedElsewhere as trouble:
            raise NotDone.of("changed_elsewhere") from trouble
        except lifecycle.NotInThatState as refusal:
            raise NotDone.of("not_in_that_state", state=refusal.state) from refusal
        except PriceTooLow as refusal:
            raise NotDone(*refusal.faults) from refusal

    def preview(self, link: Link) -> Preview:
        try:
            return Preview(link, self.words_of(link))
        except NotDone as left:
            return Preview(link, str(left), is_left=True)


class PublishingAct(ManyAct):
    """An act on drafts that may let buyers see the change at once."""

    def __init__(self, business: Business, now: datetime, data: Any = None) -> None:
        super().__init__(business, now, data)
        self.fields["publish"] = forms.BooleanField(
            label="Publish it at once, where nothing else is waiting to be published", required=False, initial=True
        )

    def publish(self, link: Link, by: Actor, *, had_changes: bool) -> None:
        """Let buyers see the change of the link, unless they would see other changes with it."""
        if not self.cleaned_data["publish"] or had_changes or link.version_id is None:
            return
        try:
            lifecycle.publish(link, self.now, by=by)
        except (lifecycle.NotReady, lifecycle.NotInThatState) as refusal:
            raise NotDone.of("not_published", trouble=str(refusal)) from refusal

    def after_words(self, link: Link) -> str:
        """What becomes of the change, said after what changes."""
        if link.version_id is None:
            return "; a draft"
        if not self.cleaned_data["publish"]:
            return "; not published"
        return "; not published: other changes wait" if link.has_unpublished_changes else ""
