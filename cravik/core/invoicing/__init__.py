"""Receipts, invoices and credit notes: what stands in them, how they are numbered, and as EN 16931. Pure."""
