"""Who waits for a link, and the letter to all of them."""
