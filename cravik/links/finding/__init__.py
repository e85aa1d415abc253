"""Finding links: what a seller looks for, and the labels by which links are sorted."""
