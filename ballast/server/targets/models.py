from django.db import models

from ballast.server.accounts.models import Person
from ballast.server.rigs.models import Rig
from ballast.server.tables.models import Table
from ballast.server.weighing.models import Weighing


class TargetSet(models.Model):
    """Targets put in force for a whole rig: an event. The newest is in force, the earlier stay readable."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="target_sets")
    weighing = models.ForeignKey(Weighing, on_delete=models.PROTECT, related_name="+")
    reserve = models.FloatField()
    edge = models.FloatField()
    step = models.CharField(max_length=10)
    # What the answer was computed from, to tell later that something has changed since.
    inputs = models.JSONField()
    put_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    put_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]


class TargetAxle(models.Model):
    """One axle's band. `target_kpa` null: see `state`. `answer` keeps the working."""

    target_set = models.ForeignKey(TargetSet, on_delete=models.CASCADE, related_name="axles")
    number = models.PositiveSmallIntegerField()
    state = models.CharField(max_length=20)
    table = models.ForeignKey(Table, null=True, on_delete=models.PROTECT, related_name="+")
    floor_kpa = models.FloatField(null=True)
    target_kpa = models.FloatField(null=True)
    ceiling_kpa = models.FloatField(null=True)
    answer = models.JSONField()

    class Meta:
        ordering = ["number"]
