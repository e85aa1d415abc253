"""The counter: a simulated card processor and its bank, with tables and a log of its own.

Owns: CounterCard, CounterCharge, CounterEntry. It knows nothing of links, orders or buyers;
the application reaches it only through ``gateway.CounterGateway``."""
