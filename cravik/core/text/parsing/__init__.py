"""An offer as it is said in one line, read back: what the offer sentence says, and what people type.

``reading.parse_line`` is the one door. Nothing is guessed in silence: what cannot be read is named, and the sentence of
what was read says how it was understood. The rules try every way to read a text from left to right, each once.
"""
