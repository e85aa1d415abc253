"""Handing a link out: its spots with their addresses, QR codes and buttons.

Owns: KeptDesign. Reads: links, journal, orders, setup. Writes spots through the services of links."""
