"""A buyer's own page at one seller: what they bought, its documents, and what comes next. It is opened by a mailed
address, once, by a press; a cookie of that page alone keeps it open."""
