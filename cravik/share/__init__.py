"""Handing a link out: its spots with their addresses, QR codes and buttons.

Owns: KeptDesign, Handle, HandleCurrency. Reads: links, journal, orders, setup. Writes spots by links' services."""
