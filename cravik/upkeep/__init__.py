"""Keeping the installation running: the supervisor, the worker's clock, back-ups.

Owns: no tables. Reads: settings. Hands on: commands ``serve`` and ``backup``.
"""
