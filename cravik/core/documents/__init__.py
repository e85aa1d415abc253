"""The JSON documents: offers, baskets and quotes, read strictly and written so that they read back.

Pydantic stands here, at the border; inside, the core knows its own frozen dataclasses only. The
models are also what the JSON Schemas in ``docs/schemas`` are made from.
"""
