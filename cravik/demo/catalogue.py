"""What Windlestraw Kites sells. All of it is invented."""

from __future__ import annotations

from dataclasses import dataclass

from cravik.core.link.withdrawal import Exemption
from cravik.demo import kinds
from cravik.demo.kinds import SampleOffer

BUSINESS = {
    "name": "Windlestraw Kites",
    "support_email": "hello@windlestraw.example",
    "country": "IE",
    "currency": "EUR",
    "time_zone": "Europe/Dublin",
    "statement_text": "WINDLESTRAW KITES",
    "address": "3 Dune Road\nMarramport\nF91 W2X1",
    "tax_number": "IE1234567FA",
}
SELLER_NAME = "Orla Windle"
SELLER_EMAIL = "orla@windlestraw.example"
SELLER_PASSWORD = "kites on the beach"


@dataclass(frozen=True)
class Later:
    """That so many days ago its seller published a second version, and how visits climbed from then on. It has another
    price, or else what ``care.reshape`` makes of it."""

    days_ago: int
    climbs: tuple[float, float, float]
    minor: int | None = None


@dataclass(frozen=True)
class SampleLink:
    """A link to make: its price in minor units, its state, how long it was up (days ago, first and
    last), visits on a usual day, and what share of each rung climbs to the next."""

    title: str
    minor: int
    words: str = ""
    state: str = "live"
    up: tuple[int, int] = (365, 0)
    visits_a_day: float = 2.0
    climbs: tuple[float, float, float] = (0.35, 0.5, 0.8)
    currency: str = "EUR"
    #: The code of the item that it sells, whose name and words it has.
    item: str = ""
    #: The look that it has instead of the default.
    look: str = ""
    #: Where it is put up beside its own address.
    spots: tuple[str, ...] = ("Stall sign",)
    #: What became of it.
    later: Later | None = None
    #: What it is a copy of, with its own words: which of the two does better is the question.
    copy_of: str = ""
    #: What it sells, where that is more than one thing at one price.
    offer: SampleOffer | None = None
    #: Why there is no right to withdraw from buying what it sells.
    exempt: Exemption | None = None


LINKS = [
    SampleLink(
        "Delta kite",
        4800,
        item="DELTA",
        visits_a_day=4.5,
        spots=("Stall sign", "Winter newsletter", "Page of the kite club", "Film of the big race"),
    ),
    SampleLink(
        "Diamond kite for beginners",
        2400,
        item="DIAMOND",
        visits_a_day=5.5,
        climbs=(0.42, 0.55, 0.85),
    ),
    SampleLink(
        "Box kite, hand-sewn",
        7200,
        item="BOX",
        visits_a_day=1.6,
        climbs=(0.3, 0.4, 0.75),
    ),
    SampleLink(
        "Box kite, with a film of it",
        7200,
        "It stands in the air like a lantern. See it fly before you choose.",
        copy_of="Box kite, hand-sewn",
        up=(140, 0),
        visits_a_day=1.6,
        climbs=(0.44, 0.5, 0.8),
    ),
    SampleLink(
        "Parafoil, pocket size",
        3600,
        "No spars: it folds into its own pocket.",
        state="paused",
        up=(300, 6),
        visits_a_day=1.8,
    ),
    SampleLink(
        "Kite repair",
        2400,
        "One tear, one spar or a new bridle. Post it or bring it to the stall.",
        visits_a_day=1.2,
        climbs=(0.7, 0.8, 0.92),
    ),
    SampleLink(
        "Sled kite pattern to print",
        650,
        item="PATTERN",
        visits_a_day=3.4,
        climbs=(0.3, 0.42, 0.9),
        later=Later(120, (0.36, 0.66, 0.92), 450),
        exempt="at_once",
    ),
    SampleLink(
        "Workshop on the beach, one seat",
        3500,
        "Three hours, all materials, tea from the flask.",
        up=(75, 0),
        visits_a_day=5.0,
        climbs=(0.5, 0.62, 0.85),
        later=Later(58, (0.5, 0.42, 0.85)),
        exempt="dated",
    ),
    SampleLink(
        "Summer workshop, one seat",
        3200,
        state="ended",
        up=(230, 95),
        visits_a_day=4.0,
        climbs=(0.4, 0.6, 0.82),
        exempt="dated",
    ),
    SampleLink("Tail ribbon, five metres", 900, visits_a_day=1.0, climbs=(0.5, 0.7, 0.9)),
    SampleLink("Spar sets", 1450, offer=kinds.SPARS, visits_a_day=0.9, climbs=(0.5, 0.65, 0.9)),
    SampleLink(
        "Delta kite with a tail", 4500, offer=kinds.KITE_WITH_TAIL, up=(200, 0), visits_a_day=2.6, spots=("Newsletter",)
    ),
    SampleLink("Class sets of sled kites", 1400, offer=kinds.CLASS_SETS, visits_a_day=0.7, climbs=(0.4, 0.5, 0.8)),
    SampleLink(
        "Kite festival fund",
        1000,
        offer=kinds.FESTIVAL_FUND,
        up=(150, 0),
        visits_a_day=2.4,
        climbs=(0.4, 0.7, 0.9),
        spots=("Stall sign", "Poster at the lighthouse"),
        exempt="gift",
    ),
    SampleLink("Festival patron", 2500, offer=kinds.PATRONS, up=(150, 0), visits_a_day=1.1),
    SampleLink(
        "Beach weekend",
        15000,
        offer=kinds.BEACH_WEEKEND,
        up=(90, 0),
        visits_a_day=2.2,
        climbs=(0.4, 0.5, 0.8),
        exempt="dated",
    ),
    SampleLink("Flying day", 0, offer=kinds.FLYING_DAY, up=(40, 0), visits_a_day=3.0, climbs=(0.7, 0.9, 0.98)),
    SampleLink("Diamond kite, posted to Britain", 2600, visits_a_day=0.9, currency="GBP"),
    SampleLink(
        "Night-flying light kit",
        1850,
        "Clips to any spar. Runs for nine hours.",
        up=(4, 0),
        visits_a_day=3.5,
        look="Night flying",
    ),
    SampleLink(
        "Sewing day", 5800, offer=kinds.SEWING_DAY, up=(9, 0), visits_a_day=2.4, climbs=(0.5, 0.62, 0.8), exempt="dated"
    ),
    SampleLink("Linocut “Onshore wind”", 3800, offer=kinds.PRINT, up=(30, 0), visits_a_day=1.6, climbs=(0.4, 0.5, 0.8)),
    SampleLink("Kite stickers", 200, offer=kinds.STICKERS, up=(60, 0), visits_a_day=1.8, climbs=(0.5, 0.6, 0.9)),
    SampleLink("Family kite day", 1400, offer=kinds.FAMILY_DAY, up=(25, 0), visits_a_day=2.0, climbs=(0.5, 0.6, 0.85)),
    SampleLink(
        "Giant kite, commissioned",
        90000,
        offer=kinds.GIANT,
        up=(215, 0),
        visits_a_day=0.4,
        climbs=(0.4, 0.2, 0.0),
        exempt="made_to_order",
    ),
    SampleLink("Monthly tail club", 1200, offer=kinds.TAIL_CLUB, up=(215, 0), visits_a_day=0.9, climbs=(0.5, 0.3, 0.0)),
    SampleLink("Gift voucher", 5000, state="draft"),
    SampleLink(
        "Commissioned giant: the design",
        15000,
        "A drawing to scale, two rounds of changes.",
        state="draft",
        exempt="made_to_order",
    ),
]

FIRST_NAMES = tuple(
    (
        "Aoife Bram Carys Dara Eilis Fintan Greta Hamid Iris Jonas Keir Lina Maren Noor Oisin "
        "Petra Quin Rhona Sami Tilde Una Viggo Wanda Xenia Yusuf Zora Anselm Brona Cosmo Dilys"
    ).split()
)
LAST_NAMES = tuple(
    (
        "Ashgrove Birkett Cawdor Dunmore Eastlake Fennimore Garrow Hollins Inchbald Jessop Kilbride Larkfield "
        "Marram Netherby Oakhanger Penhale Quillfeather Rushmere Saltmarsh Tidewell Underhay Vetch Wrackham "
        "Yarrowby Zeal"
    ).split()
)
MAIL_PLACES = ("dunes.example", "headland.example", "post.example", "harbour.example")
STREETS = ("Strand Lane", "Marram Road", "Lighthouse Row", "Sandpiper Close", "Tidewell Street", "Ropewalk")
TOWNS = ("Marramport", "Saltmere", "Windle Head", "Oyster Quay", "Dunmarsh")
