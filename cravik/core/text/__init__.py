"""An offer and a quote in words, and words read into amounts. Number formats and names are those of Unicode's CLDR."""
