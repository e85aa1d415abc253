"""What becomes of orders and their money, one act a file: an order is made, a due is paid or fails, money goes back.

Each is done in the one transaction that records what it follows from, with the event that tells of it. Whoever records
that first goes on, and nobody after them, so it may be asked for however often. Done twice by mistake all the same, the
tables refuse it: one order a checkout, one line of the ledger a charge and a refund, no due paid above its sum.
"""
