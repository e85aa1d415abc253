"""The rules of the job, with no interface code.

Owns: money, amounts as people type them, fees, offers, quotes, the offer sentence, the ladder
and its rates. Reads nothing: no Django, no clock, no randomness, no files; all of it is passed
in. Hands on frozen dataclasses.
"""
