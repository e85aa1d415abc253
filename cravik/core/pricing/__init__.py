"""What an offer costs, when it is paid and what is given back: the rules, in whole minor units and ``Money``.

Knows neither documents nor languages: what it refuses is told by code, with an English sentence for developers.
"""
