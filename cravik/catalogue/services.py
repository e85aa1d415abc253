"""Named writes of the catalogue."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import datetime
from itertools import chain, count, product

from anyascii import anyascii
from django.conf import settings
from django.db import transaction
from django.db.models import ProtectedError
from django.utils.module_loading import import_string

from cravik.catalogue.drafts import ItemDraft
from cravik.catalogue.handed_over import remove_kept_files
from cravik.catalogue.models import Choice, Combination, Item, ItemPrice, Option, combination_key
from cravik.setup.models import Business
from cravik.ui.picture_files import remove_files


class ChangedElsewhere(Exception):
    """The item was saved from another tab or by another person since the page was opened."""


class CodeTaken(Exception):
    """Another item, or combination, of the business has that code."""

    def __init__(self, code: str, holder: str) -> None:
        super().__init__(f"“{code}” is the code of “{holder}”.")
        self.code = code


class ItemIsSold(Exception):
    """A link sells the item, or did: what was sold is kept."""


@transaction.atomic
def make_item(business: Business, draft: ItemDraft, now: datetime) -> Item:
    """A new item. Raises ``CodeTaken``."""
    _check_code(business, draft.code, None)
    item = Item.objects.create(business=business, made_at=now, changed_at=now, **draft.plain())
    write_parts(item, draft)
    return item


@transaction.atomic
def change_item(item: Item, draft: ItemDraft, seen_revision: int, now: datetime) -> list[str]:
    """Make the item what the draft says; returns the combinations whose counted stock went with their options.

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
    tell_followers([fresh], now)
    return dropped


def tell_followers(items: Iterable[Item], now: datetime) -> None:
    """Let those who use the items write down what changed, in the transaction that is under way."""
    for path in settings.CRAVIK_ITEM_FOLLOWERS:
        follow = import_string(path)
        for item in items:
            follow(item, now)


def remove_item(item: Item) -> None:
    """Take the item away with all that hangs on it. Raises ``ItemIsSold``."""
    pictures = list(item.pictures.all())
    files = list(item.files.values_list("key", flat=True))
    try:
        item.delete()
    except ProtectedError:
        raise ItemIsSold from None
    for picture in pictures:
        remove_files(picture.name, picture.widths)
    remove_kept_files(files)


def put_away(item: Item) -> None:
    """Take the item out of the list; links that sell it go on."""
    Item.objects.filter(id=item.pk).update(put_away=True)


def take_out_again(item: Item) -> None:
    Item.objects.filter(id=item.pk).update(put_away=False)


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
    others = Item.objects.of(business).filter(code=code).exclude(id=own.pk if own else None)
    if other := others.first():
        raise CodeTaken(code, other.name)


def write_parts(item: Item, draft: ItemDraft) -> list[str]:
    """Make prices, groups, options and combinations those of the draft; returns what stock went with it."""
    item.prices.all().delete()
    ItemPrice.objects.bulk_create(
        ItemPrice(item=item, label=price.label, amount_minor=price.amount.minor, position=position)
        for position, price in enumerate(draft.prices)
    )
    _write_choices(item, draft)
    return renew_combinations(item)


def _write_choices(item: Item, draft: ItemDraft) -> None:
    """Options that are named by their id keep it, and with it their stock; the others are new, or gone.

    Groups are made anew and what is kept moves into them, so names may be swapped at will.
    """
    kept = {option.pk: option for option in Option.objects.select_related("choice").filter(choice__item=item)}
    names = {option.pk: [option.choice.name, option.name] for option in kept.values()}
    pictures = set(item.pictures.values_list("id", flat=True))
    former = list(item.choices.values_list("id", flat=True))
    for choice in item.choices.all():  # out of the way of the new names; no typed name has this sign
        Choice.objects.filter(id=choice.pk).update(name=f"\x1f{choice.pk}")
    for option in kept.values():
        Option.objects.filter(id=option.pk).update(name=f"\x1f{option.pk}")
    for place, wanted in enumerate(draft.choices):
        choice = Choice.objects.create(item=item, name=wanted.name, position=place)
        for position, each in enumerate(wanted.options):
            option = kept.get(each.option_id or 0) or Option()
            before = names.get(option.pk)
            if before and before != [wanted.name, each.name] and before not in option.known_as:
                option.known_as = [*option.known_as, before]
            option.choice, option.name, option.add_minor = choice, each.name, each.add.minor
            option.weight_g, option.code, option.position = each.weight_g, each.code, position
            option.picture_id = each.picture_id if each.picture_id in pictures else None
            option.save()
    Choice.objects.filter(id__in=former).delete()  # with the options that nobody named


def renew_combinations(item: Item) -> list[str]:
    """Make the combinations those of the options there are now.

    Returns what was counted of combinations that are no more, as a sentence part each.
    """
    groups = [list(choice.options.all()) for choice in item.choices.prefetch_related("options")]
    wanted = {combination_key([option.pk for option in options]) for options in product(*groups)}
    there = {combination.key: combination for combination in item.combinations.all()}
    gone = [combination for key, combination in there.items() if key not in wanted]
    Combination.objects.filter(id__in=[combination.pk for combination in gone]).delete()
    Combination.objects.bulk_create(
        Combination(business_id=item.business_id, item=item, key=key) for key in sorted(wanted - set(there))
    )
    return [f"{combination.code or 'a combination'} ({combination.count})" for combination in gone if combination.count]
