"""The tables of Setup."""

from cravik.setup.models.defaults import Default
from cravik.setup.models.hosts import HostName
from cravik.setup.models.looks import Look
from cravik.setup.models.running import RunningSettings
from cravik.setup.models.terms import Terms, TermsVersion
from cravik.setup.models.wording import Wording

__all__ = ["Default", "HostName", "Look", "RunningSettings", "Terms", "TermsVersion", "Wording"]
