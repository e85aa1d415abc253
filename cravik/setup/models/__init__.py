"""The tables of Setup."""

from cravik.setup.models.defaults import Default
from cravik.setup.models.people import Business, Membership, User

__all__ = ["Business", "Default", "Membership", "User"]
