"""What becomes of a link: what is published of it and counted, its states, what it has from Setup, archiving."""
