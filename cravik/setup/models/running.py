"""How what is paid over time is collected and stopped."""

from __future__ import annotations

from django.db import models


def usual_tries() -> list[int]:
    return [2, 5, 9]


class RunningSettings(models.Model):
    """What a seller decided of later payments from then on; no row: nothing was decided. See
    ``core.link.running.RunningRules``.

    Each save is a row of its own: a buyer agrees to what held when their page was shown.
    """

    class Then(models.TextChoices):
        PAUSE = "pause", "It pauses until the buyer has paid"
        END = "end", "It ends"

    class Stops(models.TextChoices):
        PERIOD = "period", "When what they paid for is over"
        NOW = "now", "At once"
        ASK = "ask", "By writing to you"

    class Rest(models.TextChoices):
        CHARGED = "charged", "Taken from the card on its day"
        ASKED = "asked", "Asked for by letter, paid by the buyer"

    business = models.ForeignKey("setup.Business", on_delete=models.CASCADE, db_index=False)
    revision = models.PositiveIntegerField(default=0)
    decided_at = models.DateTimeField()
    tries_after = models.JSONField(default=usual_tries)
    then = models.CharField(max_length=5, choices=Then.choices, default=Then.PAUSE)
    stops = models.CharField(max_length=6, choices=Stops.choices, default=Stops.PERIOD)
    may_skip = models.BooleanField(default=False)
    may_pause = models.BooleanField(default=False)
    rest = models.CharField(max_length=7, choices=Rest.choices, default=Rest.CHARGED)
    tell_days = models.PositiveSmallIntegerField(default=3)
    takes_each_time = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["business", "revision"], name="running_settings_once")]
