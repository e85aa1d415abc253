"""What is said in the window when Cravik starts, by whoever has something to say."""

from __future__ import annotations

from cravik.upkeep.hooks import Hook

#: Asked, once the server answers, with the address under which it is reached; an empty line says nothing.
announced_at_start: Hook[[str], str] = Hook("cravik.upkeep.starting.announced_at_start")
