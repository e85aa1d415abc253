"""What is paid over time, once it runs.

Owns: collecting what is due (``collecting``, ``due_now``), telling of it beforehand (``telling``), a buyer's page of
payments, and the seller's list and page of what runs. Reads: agreements and dues. Hands on: an approval or decline to
``orders/paying/conclude``, what becomes of a plan to ``orders/acts``.
"""
