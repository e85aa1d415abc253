"""What links do: home, where each link shows its ladder, rate and money.

Owns: no tables. Reads: links, the journal, orders."""
