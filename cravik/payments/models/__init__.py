"""What an order owes, the attempts at paying it, the money that moved, what was agreed for later, and what is held
meanwhile."""

from cravik.payments.models.agreement import Agreement, KeptCard
from cravik.payments.models.attempt import Allocation, Attempt
from cravik.payments.models.due import Due
from cravik.payments.models.hold import Hold
from cravik.payments.models.movement import Movement
from cravik.payments.models.proposal import Proposal
from cravik.payments.models.refund import Refund

__all__ = ["Agreement", "Allocation", "Attempt", "Due", "Hold", "KeptCard", "Movement", "Proposal", "Refund"]
