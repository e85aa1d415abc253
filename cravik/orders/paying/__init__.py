"""Paying: from a filled-in page to an order, once, whatever happens on the way.

1. One transaction records checkout, dues, holds and the attempt: the intent (``take``).
2. The way to pay is asked, outside any transaction.
3. One transaction records the answer and does what follows from it (``conclude``, with the acts of ``orders/acts``): an
   approval makes the order, a promise makes one that is not paid yet, anything else lets go of what was held.

A crash between 1 and 3 leaves a pending attempt, which ``reconcile`` brings to its end.
"""
