"""Long proofs, which `make proofs` runs: what the quick tests hold to a sample, held to close bounds."""
