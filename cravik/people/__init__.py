"""Who signs in, which businesses there are, and who may act for which.

Owns: User, Business, Membership; signing in and the first start. Hands on: the business of a request and what may be
done in it, through ``access``."""
