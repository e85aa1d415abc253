"""What a seller sets once: the business and the people who may sign in for it.

Owns: User, Business, Membership. Hands on: the business of a request, through ``access``."""
