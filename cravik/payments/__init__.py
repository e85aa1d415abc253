"""Attempts at paying, through a gateway behind a port.

Owns: Attempt. Reads: checkouts. Hands on: an attempt with the gateway's answer recorded."""
