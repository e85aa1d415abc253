"""What was paid: orders, their receipts, and the act of paying that makes one.

Owns: Order, OrderBook. Reads: checkouts, attempts. Hands on: orders with the quote as it was."""
