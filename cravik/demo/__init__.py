"""The sample business, Windlestraw Kites: made from a fixed seed, with dates relative to today.

Owns: no tables. Writes through the models of every other app, in bulk."""
