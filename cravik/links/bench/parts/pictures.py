"""The pictures of what a line sells, and which of them shows which option. Adding one keeps it in the catalogue."""

from __future__ import annotations

from datetime import datetime

from cravik.catalogue.models import Item, Option
from cravik.catalogue.pictures import MAX_PICTURES
from cravik.catalogue.services import show_options
from cravik.catalogue.stock_forms import OptionPictureForm, named_pictures
from cravik.links.bench.parts.of_item import ItemForms, OfItemPart
from cravik.people.actors import Actor
from cravik.ui.form_data import FormData


class OptionPictures(ItemForms):
    """Which of the item's pictures shows each of its options; nothing where it has no pictures, or no options."""

    not_sent = "The pictures were not sent. Load the page again."

    def __init__(self, item: Item, sent: FormData | None = None) -> None:
        self.item = item
        named = named_pictures(item)
        options = Option.objects.filter(group__item=item).order_by("group__position", "position") if named else ()
        is_sent = sent is not None and any(f"option-{option.pk}-picture" in sent for option in options)
        self.pictures = [OptionPictureForm(sent if is_sent else None, option, named) for option in options]
        super().__init__(self.pictures, is_sent=is_sent)

    def keep(self, now: datetime, by: Actor) -> dict[str, list[str]]:
        show_options(self.item, {form.option.pk: form.cleaned_data["picture"] for form in self.pictures}, now, by=by)
        return {}


class PicturesPart(OfItemPart):
    name = "pictures"
    heading = "Pictures"
    called = "Pictures"
    adds = "Pictures"
    found_by = "photo image"
    template = "links/bench/parts/pictures.html"
    act = "show"
    most = MAX_PICTURES

    @property
    def value(self) -> str:
        count = len(self.line.item.pictures.all()) if self.line.item else 0
        return f"{count}" if count else ""

    def forms_of(self, item: Item, sent: FormData | None) -> ItemForms:
        return OptionPictures(item, sent)
