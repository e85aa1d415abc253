"""The card that social apps show of a link: a picture of 1200 × 630, and what stands in the page's head about it."""
