"""Cravik: payment links, QR codes and buttons for somebody who sells what they make."""
