"""What is owed, attempts at paying it by one of the ways to pay, the money that moved, what was agreed for later, and
what is held meanwhile.

Owns: Due, Attempt, Allocation, Agreement, KeptCard, Refund, Movement, Hold. Reads: checkouts, links. Hands on: an
attempt with its answer recorded."""
