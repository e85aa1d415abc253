"""Paying: from a filled-in page to an order, once, whatever happens on the way.

1. One transaction records checkout, dues, holds and the attempt: the intent (``press``).
2. The gateway is called, outside any transaction.
3. One transaction records the answer and, where it was an approval, makes the order and queues its letters
   (``conclude``).

A crash between 1 and 3 leaves a pending attempt, which ``reconcile`` brings to its end.
"""
