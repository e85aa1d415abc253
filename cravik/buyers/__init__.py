"""Who buys at a business: one row a person.

Owns: Buyer. Hands on: by what one buyer is told from another (``keys``), and the row of whoever orders (``services``).
"""
