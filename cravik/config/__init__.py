"""Settings, addresses and the server's entry point: wires everything, imported by nothing."""
