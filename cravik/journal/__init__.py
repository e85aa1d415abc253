"""Visits to links and how far each got.

Owns: Visit, Campaign, DaySalt, NetworkMinute, LeftOut; visits are added and climb, never fall. Refers to links by
plain id. Hands on: ladders by link and period, and what was left out."""
