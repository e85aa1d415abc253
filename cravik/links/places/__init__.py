"""Where a link is found: name and address, spots, what an address fills in and locks, the sites that may open it."""
