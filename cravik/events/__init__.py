"""What happened, to what, and by whom.

Owns: Event. Written by every app in the transaction of the act (``writing.write``), as one of the kinds that the app
registered (``kinds.of_kind``); read by timelines, and by whoever walks all of them (``walking.events_after``).
"""
