"""What a buyer reads when a payment was declined, by the reason that the way to pay gave."""

from __future__ import annotations

from collections.abc import Mapping

DECLINES: Mapping[str, str] = {
    "insufficient_funds": "There is not enough money on this card. Try another card.",
    "refused_by_bank": "The bank refused the card and gave no reason. Ask your bank, or use another card.",
    "expired_card": "The card has expired. Check the date, or use another card.",
    "wrong_security_code": "The security code doesn't match the card. Check its three digits and press again.",
    "limit_reached": "The card's limit for today is reached. Try tomorrow, or use another card.",
    "unknown_card": "The counter does not know this card. It only takes its own made-up ones:",
    "check_failed": "Your bank asked whether it is you, and the answer was no. Use another card, or try again.",
    "check_given_up": "You left your bank's question unanswered. Press the button again to answer it, or use another.",
}
_OTHERWISE = "The card was declined. Try another card."


def decline_words(reason: str) -> str:
    """What is told of the reason; of one that is not known, only that it happened."""
    return DECLINES.get(reason, _OTHERWISE)
