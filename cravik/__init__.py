"""Cravik: payment links, QR codes and buttons for somebody who sells what they make."""

#: The one place where it stands: screens, logs, back-ups, the data folder and CHANGELOG.md have it from here.
VERSION = "0.3.0"
