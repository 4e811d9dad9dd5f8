from django.db import models

from ballast.server.accounts.models import Person
from ballast.server.gauges.models import Gauge
from ballast.server.rigs.models import Rig
from ballast.server.targets.models import TargetSet


class Round(models.Model):
    """One check of a whole rig, or of a combination from its tow vehicle.

    Open until sealed; sealed it is never changed, and `result` is what stood then.
    """

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="rounds")
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    # The wheels in walking order with what each is held against, as they were when the round was opened.
    sheet = models.JSONField()
    place = models.CharField(max_length=80, blank=True)
    time_zone = models.CharField(max_length=40, default="UTC")
    outside_c = models.FloatField()
    morning_c = models.FloatField(null=True)
    dawn_c = models.FloatField(null=True)
    # Every dawn until the next check: [[°C, days ahead], …]; empty: the coming one alone.
    dawns = models.JSONField(default=list)
    station_kpa = models.FloatField(null=True)
    temperature = models.CharField(max_length=14, default="morning")
    cold_after_h = models.FloatField(null=True)
    elevation_m = models.FloatField()
    heavy = models.BooleanField()
    standing_h = models.FloatField()
    driven = models.CharField(max_length=10, default="highway")
    opened_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    sealed_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    sealed_at = models.DateTimeField(null=True)
    unread_reason = models.CharField(max_length=200, blank=True)
    result = models.JSONField(null=True)
    # [[wheel, word, rig], …] of the result, at hand for the Yard without the rest of it.
    words = models.JSONField(null=True)
    abandoned_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-opened_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["rig"],
                condition=models.Q(sealed_at=None, abandoned_at=None),
                name="one_open_round",
            )
        ]
        indexes = [models.Index(fields=["rig", "sealed_at"])]


class RoundPart(models.Model):
    """A vehicle of a round, with the targets that were in force for it when the round was opened."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="parts")
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="round_parts")
    place = models.PositiveSmallIntegerField()
    target_set = models.ForeignKey(TargetSet, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["round", "rig"], name="vehicle_once_a_round")]


class Reading(models.Model):
    """One reading as it was entered; append only. The newest of a wheel and kind counts."""

    uuid = models.UUIDField(unique=True)
    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="readings")
    wheel = models.CharField(max_length=8)
    after = models.BooleanField(default=False)
    typed = models.CharField(max_length=40)
    raw_kpa = models.FloatField()
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    corrected_kpa = models.FloatField()
    uncertainty_kpa = models.FloatField()
    outside_calibration = models.BooleanField(default=False)
    not_rolled = models.BooleanField(default=False)
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]
