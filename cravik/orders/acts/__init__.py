"""What becomes of orders and their money, one act a file: an order is made, a due is paid or fails, money goes back.

Each is done in one transaction (the one under way, where there is one) with the event that tells of it, and is safe to
repeat: the second time it finds nothing left to do.
"""
