"""The offer sentence, read back: ``reading.parse_line`` is the one door. The rules try every way to read a text from
left to right, each once; what people type is read in ``core.text.said``.
"""
