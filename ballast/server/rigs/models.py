from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.rigs import KINDS
from ballast.server.accounts.models import Owned


class Rig(Owned):
    """A vehicle or trailer. Archived, never deleted: its rounds stay readable."""

    kind = models.CharField(max_length=20, choices=list(KINDS.items()))
    name = models.CharField(max_length=80)
    fleet_number = models.CharField(max_length=20, blank=True)
    gvwr_kg = models.FloatField(null=True)
    wheelbase_m = models.FloatField(null=True)
    note = models.CharField(max_length=500, blank=True)
    archived = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["fleet_number", "name", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "fleet_number"],
                condition=~models.Q(fleet_number="") & models.Q(archived=False),
                name="one_fleet_number",
            )
        ]


class TireSpec(models.Model):
    """What the sidewall says, on an axle or a spare. Unknown is null."""

    tire_size = models.CharField(max_length=60)
    tire_make = models.CharField(max_length=80, blank=True)
    load_index_single = models.PositiveSmallIntegerField(null=True)
    load_index_dual = models.PositiveSmallIntegerField(null=True)
    load_range = models.CharField(max_length=4, blank=True)
    max_load_single_kg = models.FloatField(null=True)
    max_load_dual_kg = models.FloatField(null=True)
    sidewall_max_kpa = models.FloatField(null=True)
    wheel_max_kpa = models.FloatField(null=True)

    class Meta:
        abstract = True


class Axle(TireSpec):
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="axles")
    number = models.PositiveSmallIntegerField()
    position_m = models.FloatField()
    track_m = models.FloatField()
    wheels = models.PositiveSmallIntegerField()
    gawr_kg = models.FloatField(null=True)
    placard_kpa = models.FloatField(null=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["rig", "number"], name="axle_once")]


class Spare(TireSpec):
    """A spare with its own required pressure, from the placard or the marking."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="spares")
    number = models.PositiveSmallIntegerField()
    required_kpa = models.FloatField(null=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["rig", "number"], name="spare_once")]
