"""Named writes of the catalogue."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from datetime import datetime
from itertools import chain, count, product

from anyascii import anyascii
from django.db import transaction
from django.db.models import F, ProtectedError

from cravik.catalogue.digital_goods import remove_kept_files
from cravik.catalogue.drafts import ItemDraft
from cravik.catalogue.happened import ItemArchived, ItemChanged, ItemListedAgain, ItemMade, ItemRemoved, record
from cravik.catalogue.models import Item, ItemPrice, Option, OptionGroup, Variant, variant_key
from cravik.people.actors import Actor
from cravik.people.models import Business
from cravik.setup.saving import ChangedElsewhere
from cravik.ui.picture_files import remove_files
from cravik.upkeep.hooks import Hook


class CodeTaken(Exception):
    """Another item, or variant, of the business has that code."""

    def __init__(self, code: str, holder: str) -> None:
        super().__init__(f"“{code}” is the code of “{holder}”.")
        self.code = code


class ItemIsSold(Exception):
    """A link sells the item, or did: what was sold is kept."""


@transaction.atomic
def make_item(business: Business, draft: ItemDraft, now: datetime, *, by: Actor) -> Item:
    """A new item. Raises ``CodeTaken``."""
    _check_code(business, draft.code, None)
    item = Item.objects.create(business=business, made_at=now, changed_at=now, **draft.plain())
    write_parts(item, draft)
    record(ItemMade(item.name), item, now, by)
    return item


@transaction.atomic
def change_item(item: Item, draft: ItemDraft, seen_revision: int, now: datetime, *, by: Actor) -> list[str]:
    """Make the item what the draft says; returns the variants whose counted stock went with their options.

    Raises ``ChangedElsewhere`` unless ``seen_revision`` is the one that is stored, and ``CodeTaken``.
    """
    fresh = Item.objects.select_related("business").get(id=item.pk)
    if fresh.revision != seen_revision:
        raise ChangedElsewhere
    _check_code(fresh.business, draft.code, fresh)
    for name, value in draft.plain().items():
        setattr(fresh, name, value)
    fresh.revision += 1
    fresh.changed_at = now
    fresh.save()
    dropped = write_parts(fresh, draft)
    record(ItemChanged(), fresh, now, by)
    tell_followers([fresh], now, by)
    return dropped


#: Called in the transaction that changed an item.
item_changed: Hook[[Item, datetime, Actor], None] = Hook("cravik.catalogue.services.item_changed")


def tell_followers(items: Iterable[Item], now: datetime, by: Actor) -> None:
    """Let those who use the items write down what changed, in the transaction that is under way."""
    for item in items:
        item_changed.run(item, now, by)


@transaction.atomic
def show_options(item: Item, pictures: Mapping[int, int | None], now: datetime, *, by: Actor) -> None:
    """Let the item's options, by their ids, be shown by these of its pictures, or by none. A second tab is told."""
    own = set(item.pictures.values_list("id", flat=True))
    shown = {option: picture if picture in own else None for option, picture in pictures.items()}
    options = list(Option.objects.filter(group__item=item, id__in=shown))
    changed = [option for option in options if option.picture_id != shown[option.pk]]
    for option in changed:
        option.picture_id = shown[option.pk]
    if changed:
        Option.objects.bulk_update(changed, ["picture"])
        Item.objects.filter(id=item.pk).update(revision=F("revision") + 1)
        record(ItemChanged("pictures"), item, now, by)


def remove_item(item: Item, now: datetime, *, by: Actor) -> None:
    """Take the item away with all that hangs on it. Raises ``ItemIsSold``."""
    pictures = list(item.pictures.all())
    files = list(item.files.values_list("key", flat=True))
    try:
        with transaction.atomic():
            record(ItemRemoved(item.name), item, now, by)
            item.delete()
    except ProtectedError:
        raise ItemIsSold from None
    for picture in pictures:
        remove_files(picture.name, picture.widths)
    remove_kept_files(files)


@transaction.atomic
def archive(item: Item, now: datetime, *, by: Actor) -> None:
    """Take the item out of the list; links that sell it go on."""
    if Item.objects.filter(id=item.pk, archived=False).update(archived=True):
        record(ItemArchived(), item, now, by)


@transaction.atomic
def unarchive(item: Item, now: datetime, *, by: Actor) -> None:
    """Put the item back into the list."""
    if Item.objects.filter(id=item.pk, archived=True).update(archived=False):
        record(ItemListedAgain(), item, now, by)


def ensure_code(item: Item, former: str = "") -> None:
    """Give the item a code of its own if it has none, the ``former`` one or one made from its name: link documents
    name items by it."""
    if item.code:
        return
    wanted = former or re.sub(r"[^A-Z0-9]", "", anyascii(item.name).upper())[:12] or "ITEM"
    taken = set(Item.objects.filter(business_id=item.business_id).exclude(code="").values_list("code", flat=True))
    item.code = next(each for each in chain([wanted], (f"{wanted}{n}" for n in count(2))) if each not in taken)
    Item.objects.filter(id=item.pk).update(code=item.code)


def _check_code(business: Business, code: str, own: Item | None) -> None:
    """The transaction holds the write lock, so nobody takes the code in between."""
    if not code:
        return
    others = Item.objects.of(business).filter(code=code)
    if other := (others.exclude(id=own.pk) if own else others).first():
        raise CodeTaken(code, other.name)


def write_parts(item: Item, draft: ItemDraft) -> list[str]:
    """Make prices, groups, options and variants those of the draft; returns what stock went with it."""
    item.prices.all().delete()
    ItemPrice.objects.bulk_create(
        ItemPrice(item=item, label=price.label, amount_minor=price.amount.minor, position=position)
        for position, price in enumerate(draft.prices)
    )
    _write_choices(item, draft)
    return renew_variants(item)


def _write_choices(item: Item, draft: ItemDraft) -> None:
    """Options that are named by their id keep it, and with it their stock; the others are new, or gone.

    Groups are made anew and what is kept moves into them, so names may be swapped at will.
    """
    kept = {option.pk: option for option in Option.objects.select_related("group").filter(group__item=item)}
    names = {option.pk: [option.group.name, option.name] for option in kept.values()}
    pictures = set(item.pictures.values_list("id", flat=True))
    former = list(item.option_groups.values_list("id", flat=True))
    for group in item.option_groups.all():  # out of the way of the new names; no typed name has this sign
        OptionGroup.objects.filter(id=group.pk).update(name=f"\x1f{group.pk}")
    for option in kept.values():
        Option.objects.filter(id=option.pk).update(name=f"\x1f{option.pk}")
    for place, wanted in enumerate(draft.option_groups):
        group = OptionGroup.objects.create(item=item, name=wanted.name, position=place)
        for position, each in enumerate(wanted.options):
            option = kept.get(each.option_id or 0) or Option()
            before = names.get(option.pk)
            if before and before != [wanted.name, each.name] and before not in option.known_as:
                option.known_as = [*option.known_as, before]
            option.group, option.name, option.add_minor = group, each.name, each.add.minor
            option.weight_g, option.code, option.position = each.weight_g, each.code, position
            option.picture_id = each.picture_id if each.picture_id in pictures else None
            option.save()
    OptionGroup.objects.filter(id__in=former).delete()  # with the options that nobody named


def renew_variants(item: Item) -> list[str]:
    """Make the variants those of the options there are now.

    Returns what was counted of variants that are no more, as a sentence part each.
    """
    groups = [list(group.options.all()) for group in item.option_groups.prefetch_related("options")]
    wanted = {variant_key([option.pk for option in options]) for options in product(*groups)}
    there = {variant.key: variant for variant in item.variants.all()}
    gone = [variant for key, variant in there.items() if key not in wanted]
    Variant.objects.filter(id__in=[variant.pk for variant in gone]).delete()
    Variant.objects.bulk_create(
        Variant(business_id=item.business_id, item=item, key=key) for key in sorted(wanted - set(there))
    )
    return [f"{variant.code or 'a variant'} ({variant.count})" for variant in gone if variant.count]
