"""The sample's catalogue: what Windlestraw Kites sells more than once."""

from __future__ import annotations

from datetime import datetime

from django.core.files.uploadedfile import SimpleUploadedFile

from cravik.catalogue.digital_goods import add_codes, add_file
from cravik.catalogue.drafts import ItemDraft, OptionDraft, OptionGroupDraft, PriceDraft
from cravik.catalogue.models import Item, Option, Variant
from cravik.catalogue.pictures import add_picture, describe_picture
from cravik.catalogue.services import make_item
from cravik.catalogue.stock import take_proposed_codes
from cravik.core.pricing.money import Money
from cravik.demo.drawings import kite_picture, sled_pattern
from cravik.demo.seller import seller_of
from cravik.people.actors import Actor
from cravik.people.models import Business

# Name, words, kind, code, grams, (label, minor units) …, {group: (option, minor units added, code) …}, counts.
_Prices = tuple[tuple[str, int], ...]
_Choices = dict[str, tuple[tuple[str, int, str], ...]]
_ITEMS: tuple[tuple[str, str, str, str, int, _Prices, _Choices, tuple[int, ...]], ...] = (
    (
        "Delta kite",
        "Ripstop on carbon spars, sewn in the shed behind the dunes.\n\n- flies from a **light breeze** up\n"
        "- line and winder are with it\n- mended for a small price for as long as we both live",
        "goods",
        "DELTA",
        420,
        (("", 4800), ("To schools", 3900)),
        {
            "Span": (("1.2 m", -600, "12"), ("1.8 m", 0, "18")),
            "Colour": (("madder red", 0, "RED"), ("sea green", 0, "SEA"), ("patchwork", 450, "PATCH")),
        },
        (4, 7, 0, 12, 3, 2),
    ),
    (
        "Diamond kite for beginners",
        "Up in a minute, even for small hands. Comes with a tail of three colours.",
        "goods",
        "DIAMOND",
        310,
        (("", 2400),),
        {},
        (23,),
    ),
    ("Sled kite", "Two spars and a pocketful of wind.", "goods", "SLED", 180, (("", 1400),), {}, (31,)),
    (
        "Box kite, hand-sewn",
        "Cotton and spruce, as in the old photographs.",
        "goods",
        "BOX",
        650,
        (("", 7200),),
        {},
        (2,),
    ),
    ("Parafoil", "No spars: it folds into its own pocket.", "goods", "FOIL", 140, (("", 3600),), {}, (9,)),
    (
        "Tail ribbon",
        "By the metre, cut as you like it.",
        "goods",
        "RIBBON",
        12,
        (("a metre", 120), ("from 25 m", 90)),
        {"Colour": (("red", 0, "RED"), ("yellow", 0, "YEL"), ("blue", 0, "BLU"), ("white", 0, "WHI"))},
        (140, 85, 60, 12),
    ),
    ("Spar set", "Six carbon spars, 4 mm, cut to length.", "goods", "SPARS", 90, (("a pack of 6", 2000),), {}, (17,)),
    (
        "Sled kite pattern to print",
        "Six pages to print at home, with a picture for each fold. A code opens the recording of how it is folded.",
        "download",
        "PATTERN",
        0,
        (("", 650),),
        {},
        (),
    ),
    (
        "Seat on the beach",
        "A day of sewing and flying. Tea, thread and wind are there.",
        "seat",
        "BEACH",
        0,
        (("Half day", 3500), ("Full day", 6000)),
        {"Day": (("Saturday", 0, "SAT"), ("Sunday", 0, "SUN"))},
        (8, 5),
    ),
    ("Kite repair", "Send it or bring it; most are back within a week.", "service", "REPAIR", 0, (("", 2400),), {}, ()),
    ("Tail club", "A new tail in the post each month.", "goods", "CLUB", 60, (("", 900),), {}, ()),
    (
        "Giant kite, commissioned",
        "Three metres and up, drawn with you, sewn over a winter.",
        "service",
        "GIANT",
        0,
        (("", 90000), ("Returning customers", 72000)),
        {},
        (),
    ),
)

_PICTURES = {
    "DELTA": (("delta", "A delta kite in madder red over the dunes"), ("delta-sea", "The same kite in sea green")),
    "DIAMOND": (("diamond", "A diamond kite of four colours with its tail"),),
    "SLED": (("sled", "A sled kite, green at the sides"),),
    "BOX": (("box", "A box kite with two cells"),),
    "FOIL": (("parafoil", "A parafoil of six cells"),),
    "RIBBON": (("ribbon", "A red ribbon in the wind"),),
    "SPARS": (("spars", "Six carbon spars side by side"),),
    "PATTERN": (("pattern", "The sled kite's sail in its panels, on paper"),),
    "BEACH": (("seat", "A bench on the beach with a kite on it"),),
    "REPAIR": (("mending", "A diamond kite with a tear in it"),),
    "CLUB": (("tails", "Three ribbons in the wind"),),
    "GIANT": (("giant", "A delta kite that fills the sky"),),
}
#: Options that a picture of the item shows: the number of it.
_SHOWN = {"DELTA": {"madder red": 0, "sea green": 1}}


def load_items(business: Business, now: datetime) -> dict[str, Item]:
    """Make the items with their options, codes, stock and pictures; returns them by their codes."""
    made, by = {}, seller_of(business)
    for name, words, kind, code, weight_g, prices, choices, counts in _ITEMS:
        draft = ItemDraft(
            name=name,
            words=words,
            kind=kind,
            code=code,
            weight_g=weight_g,
            tax_category="standard",
            currency=business.currency,
            prices=tuple(PriceDraft(label, Money(minor, business.currency)) for label, minor in prices),
            option_groups=tuple(
                OptionGroupDraft(
                    group, tuple(OptionDraft(name, Money(add, "EUR"), 0, code) for name, add, code in options)
                )
                for group, options in choices.items()
            ),
        )
        item = made[code] = make_item(business, draft, now, by=by)
        if choices:
            take_proposed_codes(item, now, by=by)
        _count(item, counts)
        if kind == "download":
            _hand_over(item, now, by)
        for drawn, alt in _PICTURES.get(code, ()):
            file = kite_picture(drawn)
            picture = add_picture(item, file, file.getbuffer().nbytes, now, by=by)
            describe_picture(picture, alt, 50, 40, now, by=by)
        for option, number in _SHOWN.get(code, {}).items():
            own = item.pictures.all()[number]
            Option.objects.filter(group__item=item, name=option).update(picture=own)
    return made


def _count(item: Item, counts: tuple[int, ...]) -> None:
    variants = list(item.variants.order_by("id"))
    for variant, count in zip(variants, counts, strict=False):
        variant.count, variant.tell_at = count, 3
    Variant.objects.bulk_update(variants, ["count", "tell_at"])


def _hand_over(item: Item, now: datetime, by: Actor) -> None:
    add_file(item, SimpleUploadedFile("sled-kite-pattern.svg", sled_pattern().encode()), now, by=by)
    add_codes(item, "\n".join(f"WIND-{number * 7919 % 9973:04d}" for number in range(101, 161)), now, by=by)
