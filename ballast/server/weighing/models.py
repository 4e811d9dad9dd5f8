from django.db import models

from ballast.server.accounts.models import Person
from ballast.server.rigs.models import Rig


class Weighing(models.Model):
    """A scale ticket. Never changed: amended by a new one that names the old."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="weighings")
    load_state = models.CharField(max_length=40)
    weighed_on = models.DateField()
    scale = models.CharField(max_length=80)
    resolution_kg = models.FloatField(default=0)
    note = models.CharField(max_length=500, blank=True)
    amends = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="amended_by")
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-weighed_on", "-id"]


class AxleWeight(models.Model):
    """What the scale said of one axle; null is not weighed. `typed` keeps the entries as typed."""

    weighing = models.ForeignKey(Weighing, on_delete=models.CASCADE, related_name="axles")
    number = models.PositiveSmallIntegerField()
    whole_kg = models.FloatField(null=True)
    left_kg = models.FloatField(null=True)
    right_kg = models.FloatField(null=True)
    typed = models.JSONField(default=dict)

    class Meta:
        ordering = ["number"]
