"""Every message the product sent, kept and readable here.

Owns: Letter. Hands on: ``queue_letters``, and the delivery of what was queued."""
