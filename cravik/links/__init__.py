"""Links: offers with an address, their states, and the bench on which they are made.

Owns: Link, Edition, Address. Reads: the business. Hands on: a link and the edition that is live."""
