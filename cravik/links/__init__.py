"""Links: offers with an address, their states, and the bench on which they are made.

Owns: Link, Version, Address. Reads: the business. Hands on: a link and the version that is live."""
