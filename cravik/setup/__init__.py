"""What a seller sets once, for every link.

Owns: looks, terms with their versions, defaults of tax, delivery and fee, wordings of messages, host names. Reads: the
business, from ``people``. Hands on: what holds, through ``defaults``."""
