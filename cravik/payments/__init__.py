"""What is owed, attempts at paying it through a gateway behind a port, the money that moved, what is held meanwhile.

Owns: Due, Attempt, Movement, Hold. Reads: checkouts, links. Hands on: an attempt with the gateway's answer recorded."""
