from django.db import models

from ballast.core import refine as core
from ballast.server.accounts.models import Person
from ballast.server.gauges.models import Gauge
from ballast.server.rigs.models import Rig, Tire
from ballast.server.targets.models import ChalkResult
from ballast.server.weighing.models import LoadState


class ChalkTrial(models.Model):
    """A chalk trial of an axle in a load state: open until it ends, by what the chalk says or by a person's word.

    Only an even result becomes a school; ended by feel it stays a note.
    """

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="chalk_trials")
    load_state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="+")
    number = models.PositiveSmallIntegerField()
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    # Why it may go below the placard; empty: it stays at it or above.
    reason = models.CharField(max_length=200, blank=True)
    begun_at = models.DateTimeField()
    begun_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    # The air when it began, for another season to be told; null: it was not known.
    air_c = models.FloatField(null=True)
    # How it ended: even, bound, alignment, differ (by the chalk), feel, left (by a person); empty: it is open.
    ended = models.CharField(max_length=10, blank=True)
    ended_at = models.DateTimeField(null=True)
    note = models.CharField(max_length=200, blank=True)
    result = models.ForeignKey(ChalkResult, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ["-begun_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["rig", "number"], condition=models.Q(ended=""), name="one_open_trial_an_axle"
            )
        ]

    @property
    def rear(self) -> bool:
        return self.number > 1


class ChalkPass(models.Model):
    """One drive of a trial: the pressure as read, and what was left of the chalk on both tires. Append only."""

    uuid = models.UUIDField(unique=True)
    trial = models.ForeignKey(ChalkTrial, on_delete=models.CASCADE, related_name="passes")
    typed = models.CharField(max_length=40)
    kpa = models.FloatField()
    # [left, centre, right] of the left and of the right tire.
    left = models.JSONField()
    right = models.JSONField()
    # Keys of what did not hold: the pass does not count.
    missing = models.JSONField(default=list)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    done_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class TireEvent(models.Model):
    """Something that was done to a tire, or happened to it. Taken back, it stays stored and counts for nothing."""

    uuid = models.UUIDField(unique=True)
    tire = models.ForeignKey(Tire, on_delete=models.PROTECT, related_name="events")
    kind = models.CharField(max_length=10, choices=list(core.EVENTS.items()))
    done_on = models.DateField()
    odometer_km = models.FloatField(null=True)
    # Of a new tread, how deep it is.
    tread_mm = models.FloatField(null=True)
    words = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-done_on", "-id"]
        indexes = [models.Index(fields=["tire", "done_on"])]


class Rotation(models.Model):
    """Tires that changed places in one act; where each went stands in its fittings too. Append only but for the sensors."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="rotations")
    moves = models.JSONField()
    done_on = models.DateField()
    odometer_km = models.FloatField(null=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField()
    # When the receiver learned anew where its sensors are; null while that is open. `sensors`: whether any moved.
    sensors = models.BooleanField(default=False)
    learned_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-done_on", "-id"]
