"""The catalogue: items, their prices, options, pictures and stock.

Owns every table of it. Reads the business. Hands on items to links; whatever a link needs of an item
it asks for here.
"""
