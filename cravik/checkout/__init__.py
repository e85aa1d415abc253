"""The buyer's page: what a link shows to whoever opens its address.

Owns: Checkout (what one buyer was about to pay). Reads: links, the journal. Hands on: a checkout."""
