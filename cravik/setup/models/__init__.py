"""The tables of Setup."""

from cravik.setup.models.defaults import Default
from cravik.setup.models.kits import Kit
from cravik.setup.models.people import Business, Membership, User

__all__ = ["Business", "Default", "Kit", "Membership", "User"]
