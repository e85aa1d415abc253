"""What can be said, by example: a list that is searched by its words."""

from __future__ import annotations

from typing import NamedTuple


class Example(NamedTuple):
    """What it is for, and how it is said."""

    what: str
    line: str


OF_OFFERS = (
    Example("One price", "Kite mending 24"),
    Example("A former price", "Lambswool throw 60, was 85"),
    Example("Free", "Open studio, free"),
    Example("So much each", "Tail ribbon 2.50 each, up to 25"),
    Example("By the hour", "Consulting 90/hr"),
    Example("Less from a number on", "Spar set 12 each, 10+ 10.50, 25+ 9"),
    Example("Several for less", "Beeswax candle 9, 3 for 24"),
    Example("In packs", "Nails 4.50 per pack of 100"),
    Example("Levels to pick from", "Family portrait small 60 / medium 90 / large 140"),
    Example("The buyer chooses the amount", "Festival fund, pay what you want from 5, suggested 10, 20, 50"),
    Example("Options", "Festival tee 24 in S, M, L, XL (+2)"),
    Example("An extra, if wanted", "Bouquet 30, chocolates 8 extra"),
    Example("Several things together", "Bowl 24 and spoon 6 together"),
    Example("Each as many as wanted", "Adult ticket 12, child ticket 6"),
    Example("Every month", "Tail club 12 a month, first month free"),
    Example("A joining fee", "Makerspace access 40 a month, plus 20 joining fee"),
    Example("Monthly or yearly", "Newsletter 6 a month or 60 a year"),
    Example("Instalments", "Giant kite 600 in 6 monthly instalments"),
    Example("Deposit, the rest later", "Garden design 2000, deposit 500, rest on 1 March"),
    Example("Discount code", "Soap bundle 24, 15% off with FRIENDS until Friday, once per customer"),
    Example("A later price", "Retreat 300 until 31 Dec then 350"),
    Example("The first ones for less", "Raku day 95, first 6 at 80"),
    Example("Places", "Pottery taster 28, 12 places"),
    Example("Opening and closing", "Supper 38 from tomorrow until Thursday 6pm"),
    Example("So many for one buyer", "Gig ticket 15, max 4 per person"),
    Example("Questions to the buyer", "Kids camp 120, ask for phone, age and allergies"),
    Example("One of a list", "Club jersey 50, ask size: S/M/L/XL"),
    Example("Words on the button", "Kite 48, button “Fly it”"),
    Example("A label", "Workshop 65, label market"),
    Example("A note to yourself", "Mug 12, note “call the printer”"),
)
OF_CHANGES = (
    Example("Another price", "52"),
    Example("All prices up or down", "up 5 %"),
    Example("All prices up or down by a sum", "2.50 cheaper"),
    Example("A later price", "52 from Monday"),
    Example("A price for some days", "38 until Friday, then 48"),
    Example("A former price", "was 60"),
    Example("Discount code", "10% off with EARLY until Friday"),
    Example("No code any more", "drop code EARLY"),
    Example("An extra", "gift wrap 3 extra"),
    Example("Options", "in red or blue (+4)"),
    Example("How many in an order", "up to 3"),
    Example("Less from a number on", "10+ 9 each"),
    Example("Places", "12 places"),
    Example("Closing", "until Friday 6pm"),
    Example("Closing later", "extend to 20 January"),
    Example("No closing date", "no closing date"),
    Example("Ends after so many", "end after 12"),
    Example("Every month", "monthly"),
    Example("Instalments", "in 3 instalments"),
    Example("Question", "ask for allergies"),
    Example("Yes or no", "ask if vegan"),
    Example("A question less", "drop the second question"),
    Example("Words on the button", "button “Book now”"),
    Example("A label", "label market"),
    Example("A note to yourself", "note “call the printer”"),
)
