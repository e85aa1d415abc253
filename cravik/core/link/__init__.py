"""A link: its offer, and what stands around it. Limits and steps are judged at an instant."""
