"""Counts and rates of visits, with how sure they let one be. Floating point is right here: none of it is money."""
