"""The tables of Setup."""

from cravik.setup.models.conditions import Conditions, ConditionsVersion
from cravik.setup.models.defaults import Default
from cravik.setup.models.hosts import HostName
from cravik.setup.models.kits import Kit
from cravik.setup.models.wording import Wording

__all__ = ["Conditions", "ConditionsVersion", "Default", "HostName", "Kit", "Wording"]
