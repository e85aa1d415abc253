"""The words of the grammar, as English has them in Britain, Ireland, America and India: another language is another
table of these names.

A phrase is written as its words; ``|`` parts phrases that mean the same.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


def _set(text: str) -> frozenset[str]:
    return frozenset(" ".join(phrase.split()) for phrase in text.split("|"))


def _phrases(text: str) -> tuple[str, ...]:
    """The phrases, the longest first: a pattern takes the first that fits."""
    return tuple(sorted(_set(text), key=lambda phrase: (-len(phrase.split()), -len(phrase), phrase)))


@dataclass(frozen=True, eq=False)
class Words:
    """One language's tables. ``classes`` are phrases by the name under which patterns ask for them (``<until>``)."""

    classes: Mapping[str, tuple[str, ...]]
    numbers: Mapping[str, int]
    months: Mapping[str, int]
    weekdays: Mapping[str, int]
    #: Time words by the unit of ``Every`` and its number: ``fortnight`` is two weeks.
    spans: Mapping[str, tuple[int, str]]
    #: How often something is paid, said in one word.
    cadences: Mapping[str, tuple[int, str]]
    #: Words with a point that ends no sentence.
    abbreviations: frozenset[str]
    #: Words that mean currencies, beside signs and codes; several where they share it.
    currencies: Mapping[str, tuple[str, ...]]
    #: Hundredths of currencies.
    minor: Mapping[str, tuple[str, ...]]
    #: Words that tell that something was meant which was not understood: they are in no name.
    telling: frozenset[str]
    #: Words with which a clause of another subject begins: no option does.
    clauses: frozenset[str]
    #: Words that join, and begin or end no name; further ones that end none.
    joining: frozenset[str]
    ending: frozenset[str]
    #: Words that are put right where a letter is missing, doubled, wrong or changed with the next.
    spelled: tuple[str, ...]
    sizes: tuple[str, ...]
    levels: frozenset[str]
    colours: frozenset[str]
    people: frozenset[str]
    #: Titles of what is paid together.
    together: frozenset[str]
    #: Who come together for one price; people whom places are counted by.
    parties: frozenset[str]
    persons: frozenset[str]
    #: Colours that shade another: “light blue” is one.
    shades: frozenset[str]
    #: Words for pieces of anything: “3 jars”, of honey.
    generic: frozenset[str]
    #: What is let by time: “a week” may be its unit, or how often it is paid.
    let: frozenset[str]
    giving: frozenset[str]


_NUMBERS = dict(
    zip(
        "one two three four five six seven eight nine ten eleven twelve".split(),
        range(1, 13),
        strict=True,
    )
) | {"fifteen": 15, "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "hundred": 100, "dozen": 12}
_MONTHS = (
    "january|jan february|feb march|mar april|apr may june|jun july|jul august|aug september|sept|sep october|oct"
    " november|nov december|dec"
)
_WEEKDAYS = "monday|mon tuesday|tues|tue wednesday|wed thursday|thurs|thur|thu friday|fri saturday|sat sunday|sun"

_CLASSES = {
    "until": "until | till | til | ends | ending | ends on | end on | end it on | closes | closing | closes on"
    " | close | close on | close it | close it on | stop on | stop it on | stops on | open until | leave open until"
    " | keep open until | keep it open until | extend to | extend until | extend it to | extend it until"
    " | available until | sells until | selling until | on sale until | sales until | sales close"
    " | booking closes | bookings close | booking until"
    " | ends at | closes at | sales end | sale ends | runs until | thru | through | up until",
    "by": "by | before",
    "before": "before",
    "from": "from | opens | opens on | open on | open it on | open from | opening | starts |"
    " starts on | starting | on"
    " sale from | available from"
    " | goes live | live from | as of | go on sale | goes on sale | go on sale on | goes on sale on",
    "upto": "up to | upto | at most | maximum | max | maximum of | max of | no more than | limit"
    " | limited to | limit of",
    "least": "at least | minimum | min | minimum of | min of | min order | minimum order | min order of"
    " | minimum order of | no less than | no fewer than | not less than",
    "each": "each | ea | apiece | a piece | per piece | a pop | pp | per person | a person | per"
    " head | a head | each one"
    " | per item | per unit | per ticket | a ticket",
    "per": "per | a | an | / | each | every",
    "buyer": "buyer | person | customer | household | head | guest | client | people | family | email | email address",
    "every": "every | each | per | a | an | /",
    "instalments": "instalments | installments | instalment | installment | payments | parts | payment"
    " | goes | emis | emi",
    "times": "times | payments | instalments | installments",
    "deposit": "deposit | down payment | downpayment | booking fee | holding deposit",
    "now": "deposit | down | upfront | up front | now | in advance | today | on booking | to book | deposit now | now",
    "rest": "rest | half | the other half | balance | remainder | remaining | the rest | the balance | the remainder"
    " | remaining balance | balance due | rest due | the rest due | balance payable",
    "after": "after | in | within | due in | due after | due within | payable in",
    "onday": "on | by | due on | due by | due | payable on | before",
    "off": "off | discount | less | reduction",
    "with": "with | for | using | via | when using | by using | if you use | on entering",
    "code": "code | discount code | promo code | coupon | coupon code | voucher | voucher code | promo | password",
    "use": "use | enter | apply | quote",
    "gives": "gives | gets | takes | for | = | : | is | means | — | brings | saves | gives you |"
    " gets you | takes off | ,",
    "was": "were | was | instead of | formerly | reduced from | down from | marked down from |"
    " originally | usually | normally"
    " | rrp | mrp | regular price | list price | previously | usual price | normal price | full price was | worth"
    " | rrp of",
    "free": "free | no charge | free of charge | for free | for nothing | gratis | complimentary"
    " | no cost | at no charge"
    " | free entry | free admission | costs nothing",
    "freely": "free",
    "open": "pay what you want | pay what you like | pay what you can | pay what you wish | pay as you wish"
    " | pay what you feel | pay as you feel | pay what they want | pay what they like | pay as you like"
    " | what you want | what you like | what they want | what they like"
    " | what the buyer wants | what the buyer likes | what buyers want | what a buyer wants | what one wants"
    " | whatever you want | whatever you like | whatever you can | whatever they like | whatever you can afford"
    " | give what you can | give what you like | any amount | any amount you like | name your price"
    " | name your own price | sliding scale | choose your price | choose your own price | your choice of amount"
    " | pwyw | pwyc | as much as you like | as you like | amount of your choice | any donation"
    " | any donation welcome | donations welcome | buyer chooses",
    "orother": "other | another amount | any other amount | whatever you like | any amount | other amount"
    " | whatever you want | what you like | your own amount | choose your own | custom | own amount",
    "upwards": "upwards | or more | and up | and upwards | or above | plus | minimum | min | and above | up",
    "suggest": "suggest | suggested | suggesting | suggestion | suggestions | suggested amounts | suggested donation"
    " | most people give | most give | usual amount | typical | usually | recommended | ideally | suggestions are",
    "start": "starting at | start at | starts at | starting with | start with | starting on | prefilled with",
    "then": "then | rising to | going up to | after that | afterwards",
    "afterwards": "after | afterwards | after that | thereafter | from then | from then on | later",
    "goesto": "goes up to | going up to | goes to | rises to | rising to | then | increases to |"
    " increasing to | up to"
    " | drops to | down to | becomes | changes to | goes down to",
    "earlybird": "early bird | early bird price | earlybird | early price | early bird tickets | early tickets"
    " | presale | pre sale | pre-sale | early-bird",
    "regular": "regular | regularly | regular price | normal price | otherwise | on the door | at the door",
    "orders": "orders | order | buyers | people | customers | bookings | sales | sold | tickets | sign-ups | signups"
    " | places | seats | copies | to book | to sign up | who book",
    "optional": "optional | optionally | if wanted | if needed | if you like | if you want | if desired | on request"
    " | as an extra | as an option | add-on | addon | as an add-on | optional extra | add | if required"
    " | with optional",
    "extra": "extra | more | on top | additional | added | supplement",
    "adds": "adds | costs extra | is extra | plus",
    "another": "for another | for an extra | for an additional | at an extra | for a further",
    "once": "once | one-off | one off | charged only once | charged once | paid once | one time | one-time | only once",
    "fee": "joining fee | sign-up fee | signup fee | setup fee | set-up fee | registration fee | enrolment fee"
    " | enrollment fee | admin fee | starter fee | activation fee | onboarding fee | registration | joining",
    "trial": "trial | free trial | free | trial free | of free trial | for free | trial period | trial for free",
    "free_first": "free | is free | are free | on us | for free | on the house",
    "endless": "until cancelled | until canceled | until it is ended | until somebody ends it | without an end"
    " | cancel anytime | cancel any time | cancel at any time | no end | ongoing | rolling | until further notice",
    "soldout": "until sold out | till sold out | til sold out | while stocks last | while stock lasts"
    " | while supplies last | until they are gone | first come first served",
    "delivery": "delivery | shipping | postage | p&p | post | post and packing | postage and packing | p and p"
    " | shipping and handling | courier | postal | freight | s&h",
    "sent": "sent | posted | delivered | shipped | mailed | sent by post | ships | delivers | we post | we ship",
    "collected": "pickup only | pick-up only | pick up only | collection only | collect in person | collect only"
    " | pickup in person | collection in person | local pickup | local pickup only",
    "tax": "tax | vat | gst | sales tax | hst | taxes",
    "taxed": "included | inclusive | incl | inc | exclusive | extra | added | on top | excluded | excl",
    "incl": "including | includes | incl | inc | inclusive of | with | plus | excluding | excl |"
    " ex | exclusive of | plus",
    "places": "places | place | spaces | seats | seat | tickets | ticket | spots | spot | slots | slot | couples"
    " | people | participants | guests | attendees | persons | pax | teams | pitches | stalls | tables",
    "pieces": "pieces | piece | copies | copy | prints | in stock | available | left | left in stock | only | units"
    " | remaining | made | for sale | to sell | items | of them | in total | in all | pairs | left over",
    "inall": "in all | in total | left | available | max | maximum | only | total | altogether | on sale",
    "edition": "edition | edition of | limited edition of | a limited edition of | an edition of | limited to"
    " | limited run of | run of",
    "ask": "ask | ask for | ask them for | ask for their | ask for the | ask for a | ask for an | asks for | need"
    " | need their | need the | need a | need an | require | require a | requires | collect their | please ask for"
    " | please ask | ask buyers for | want to know | want their | get their | request | ask the | ask about",
    "must": "need | need their | need the | need a | need an | require | require a | requires",
    "phone": "phone | phone number | telephone | telephone number | mobile | mobile number | phone no | cell"
    " | cell number | contact number | number to call | phone numbers | mobile no",
    "address": "address | postal address | home address | addresses | delivery address | shipping address",
    "invoice": "invoice | invoice details | company | company details | vat number | tax number | billing address",
    "noteask": "note | message | comment | comments",
    "label": "label | labels | labelled | labeled | tag | tagged | tags | label it | labelled as | labelled:",
    "button": "with button | button says | button | with the button | button text | the button says | button:",
    "todo": "note | to do | todo | still to do | note to self | nb | remember",
    "pack": "pack | box | crate | set | bag | tray | packet | case | carton | bundle | bunch |"
    " sleeve | roll | tin | jar"
    " | bottle | pair | reel | sheet | stack | block",
    "packof": "pack of | box of | crate of | set of | bag of | tray of | packet of | case of | carton of | bundle of"
    " | bunch of | block of | packs of | boxes of | bags of | pack | box",
    "together": "together | all together | as a set | both together | altogether | all in",
    "anyof": "any of | any of these | choose from | pick any of | as many of",
    "colour": "in | in a choice of | comes in | available in | choice of | choose | options |"
    " option | colours | colour"
    " | colors | color | flavours | flavour | flavors | flavor | in colours | in sizes | in size | size | sizes"
    " | scent | scents | with a choice of | pick",
    "sizes": "size | sizes | in size | in sizes | in a size | available in sizes | eu size | eu"
    " sizes | uk size | uk sizes",
    "bogof": "two-for-one | two for one | 2-for-1 | bogof | bogo | buy one get one free | buy one get one"
    " | buy one, get one free",
    "sale": "sale | new | offer | special offer | hot | wow | special",
    "costs": "costs | cost | is | are | @ | at | = | price | price is | only | just | for only | now | for just | for"
    " | price: | it's | sells for | selling for",
    "later_price": "price later | price to follow | price to be set | price open | price tbc | price tbd",
    "measure": "min | mins | minute | minutes | hour | hours | hr | hrs | h | ml | cl | l | litre | litres | liter"
    " | liters | g | gm | gms | gr | grams | kg | kgs | ltr | kilo | kilos | lb | lbs | oz | mm | cm"
    " | m | metre | metres | meter | meters"
    " | inch | inches | ft | feet | foot | page | pages | tiers | tier | piece | pieces"
    " | pc | pcs | day | days | week"
    " | weeks | month | months | year | years | nights | sessions | session | lessons | classes | course | courses"
    " | km | mile | miles | acre | acres | watt | w | v | string | strings | ply | hole | holes | person | people"
    " | seater | man | layer | layers | rows | m2 | m3 | sqm | sq m | cards | sheets | pack | pk | stone"
    " | gsm | gb | mb | bit | inch | yard | yards | way | speed | gear | block | blocks | bottles",
    "numbered": "no | nr | number | invoice | order | ref | reference | room | table | lot | chapter | level | grade"
    " | volume | vol | episode | ep | module | phase | week | batch | series | season |"
    " stage | unit | plot | pitch | bay"
    " | studio | serves | sleeps | aged | age | ages | under | part | issue | track | quote | job | size",
}

_LEVELS = (
    "small | medium | large | extra large | big | mini | tiny | huge | giant | basic |"
    " standard | plus | pro | premium"
    " | deluxe | full | lite | light | starter | essential | advanced | complete | bronze | silver | gold | platinum"
    " | diamond | short | long | regular | express | economy | business | first | single | double | triple | twin"
    " | family | couple | individual | group | half | whole | quarter | stalls | balcony | box | circle | gallery"
    " | front row | back row | seated | standing | earlybird | early bird | concession | full price | unwaged | waged"
    " | simple | complex | low | high | supporter | patron | friend | benefactor | solidarity | reduced"
    " | weekday | weekend | beginner"
    " | improver | intermediate | hardback | paperback | ebook | digital | print | framed | unframed | cash | online"
    " | half day | full day | evening | morning | afternoon | one way | return"
    " | in person | live | recorded"
    " | tier 1 | tier 2 | tier 3 | vip | general | general admission | adult | child"
    " | student | senior | men | women | ladies | gents | boys | girls | men's | women's | ladies'"
    " | kids | adults | children | a0 | a1 | a2 | a3"
    " | a4 | a5 | a6 | private | shared | member | non-member | members | non-members | mono | colour"
)
_PEOPLE = (
    "adult | adults | child | children | kid | kids | teen | teens | teenager | teenagers | student | students"
    " | senior | seniors | pensioner | pensioners | oap | oaps | concession | concessions | member | members"
    " | non-member | non-members | infant | infants | baby | babies | toddler | toddlers | grown-up | grown-ups"
    " | under-12 | under-16 | under-18 | youth | youths | junior | juniors"
)
_COLOURS = (
    "red | blue | green | yellow | orange | purple | pink | black | white | grey | gray | brown | navy | teal | cream"
    " | beige | rust | sand | natural | gold | silver | copper | bronze | olive | mustard | burgundy | maroon | lilac"
    " | lavender | mint | sage | ivory | charcoal | indigo | violet | turquoise | coral | peach | ochre | tan | khaki"
    " | rose | mixed | multicolour | dark | light | clear | brass | oak | walnut | pine | ash | cherry | matt | matte"
    " | gloss | glossy | plain | striped | spotted | chocolate | vanilla | lemon | strawberry | mild | medium | hot"
)

ENGLISH = Words(
    classes={name: _phrases(phrases) for name, phrases in _CLASSES.items()},
    numbers=_NUMBERS,
    months={name: number for number, names in enumerate(_MONTHS.split(), 1) for name in names.split("|")},
    weekdays={name: number for number, names in enumerate(_WEEKDAYS.split()) for name in names.split("|")},
    spans={
        **dict.fromkeys(("day", "days"), (1, "day")),
        **dict.fromkeys(("week", "weeks", "wk", "wks"), (1, "week")),
        **dict.fromkeys(("fortnight", "fortnights"), (2, "week")),
        **dict.fromkeys(("month", "months", "mo", "mos", "mth", "mths"), (1, "month")),
        **dict.fromkeys(("quarter", "quarters"), (3, "month")),
        **dict.fromkeys(("year", "years", "yr", "yrs", "annum"), (1, "year")),
    },
    cadences={
        "daily": (1, "day"),
        "weekly": (1, "week"),
        "fortnightly": (2, "week"),
        "monthly": (1, "month"),
        "quarterly": (3, "month"),
        **dict.fromkeys(("yearly", "annually", "annual", "pa", "p.a"), (1, "year")),
        **dict.fromkeys(("pm", "pcm", "p/m"), (1, "month")),
        **dict.fromkeys(("pw", "p/w"), (1, "week")),
    },
    abbreviations=frozenset("no nr rs incl inc max min approx ea vol ch ep pcs pc p.a st vs etc ref qty".split()),
    currencies={
        **dict.fromkeys(("euro", "euros"), ("EUR",)),
        **dict.fromkeys(("pound", "pounds", "quid", "sterling"), ("GBP",)),
        **dict.fromkeys(("dollar", "dollars", "bucks"), ("USD", "CAD", "AUD", "NZD", "SGD", "HKD")),
        **dict.fromkeys(("rs", "rs.", "rupee", "rupees"), ("INR", "PKR", "LKR", "NPR", "MUR")),
        **dict.fromkeys(("kr", "kr.", "kroner", "kronor"), ("DKK", "SEK", "NOK", "ISK")),
        **dict.fromkeys(("francs", "fr", "fr.", "sfr"), ("CHF",)),
        "yen": ("JPY",),
    },
    minor={"c": ("EUR", "USD", "CAD", "AUD", "NZD", "ZAR"), "p": ("GBP",), "¢": ("USD", "CAD")}
    | dict.fromkeys(("cent", "cents", "ct"), ("EUR", "USD", "CAD", "AUD", "NZD"))
    | dict.fromkeys(("pence", "pennies"), ("GBP",))
    | dict.fromkeys(("paise",), ("INR",)),
    telling=_set(
        "until | till | til | each | per | off | deposit | instalments | installments | max | maximum | min | minimum"
        " | optional | optionally | monthly | weekly | yearly | annually | fortnightly |"
        " discount | ends | closes | opens"
        " | every | between | instead | was | upto | suggest | suggested | vat | postage | shipping | later | then | if"
        " | ask | from | plus | less | paid | only | except | unless | once | one-off | one off | and/or"
        " | before | after | code"
    ),
    clauses=_set(
        "label | labels | labelled | labeled | tag | tagged | button | tax | vat | gst |"
        " note | todo | ask | asks | need"
        " | free | postage | shipping | delivery | delivered | sent | posted | shipped |"
        " collection | pickup | pay | paid"
        " | price | limit | limited | one | only | buy | use | valid | starts | opens | closes | ends | early | first"
        " | booking | phone | address | including | incl | excl | plus | still | nb | today | tomorrow | deposit"
    ),
    joining=_set(
        "and | or | of | for | at | with | a | an | the | plus | then | is | are | costs | cost | now | just | only"
    ),
    ending=_set("in | from | to | by | on | as | into"),
    spelled=(
        "monthly",
        "weekly",
        "fortnightly",
        "quarterly",
        "yearly",
        "annually",
        "instalments",
        "installments",
        "optional",
        "suggested",
        "suggest",
        "maximum",
        "minimum",
        "delivery",
        "shipping",
        "postage",
        "included",
        "including",
        "discount",
        "tomorrow",
        "wednesday",
        "thursday",
        "saturday",
        "january",
        "february",
        "september",
        "october",
        "november",
        "december",
        "upwards",
        "payments",
    ),
    sizes=("xxs", "xs", "s", "m", "l", "xl", "xxl", "xxxl"),
    levels=_set(_LEVELS),
    colours=_set(_COLOURS),
    people=_set(_PEOPLE),
    together=_set("invoice | bill | bundle | kit | hamper | set | statement | balance | proforma | pro forma"),
    parties=_set("family | couple | group | family of four"),
    persons=_set("person | people | persons | guests | pax | head"),
    shades=_set("light | dark | mixed | clear | plain | matt | matte | gloss | glossy | natural | hot | mild | medium"),
    generic=_set(
        "jars | bottles | bags | boxes | packs | tins | pots | bars | loaves | sheets | rolls | reels | bunches | trays"
        " | sets | pieces | copies | items | people | persons | adults | guests | tickets | seats | places | sessions"
        " | classes | lessons | visits | walks | loads | of them"
    ),
    let=_set(
        "hire | rental | rent | cottage | cabin | caravan | room | flat | apartment | house | pitch | let | letting"
        " | lodge | villa | boat | van | desk | studio | stall"
    ),
    giving=_set(
        "donation | donations | donate | tip | tips | gift | giving | appeal | fund |"
        " fundraiser | fundraising | charity"
        " | collection | offering | contribution | contributions | support | sponsor | tip jar | pot"
    ),
)
