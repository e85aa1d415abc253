"""Receipts, invoices and credit notes: who they are between, what stands in them, their numbers, and as PDF."""
