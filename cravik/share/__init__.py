"""Handing a link out: its address, QR code and button.

Owns: no tables. Reads: links."""
