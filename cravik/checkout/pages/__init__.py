"""The buyer's page, live and in rehearsal, put together in one place; and what a link shows that takes no payments."""
