from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.gauges import KIND_NAMES
from ballast.server.accounts.models import Owned, Person


class Gauge(Owned):
    label = models.CharField(max_length=40)
    kind = models.CharField(max_length=10, choices=list(KIND_NAMES.items()))
    low_kpa = models.FloatField(default=0)
    high_kpa = models.FloatField()
    resolution_kpa = models.FloatField()
    dual_foot = models.BooleanField(default=False)
    dropped = models.BooleanField(default=False)
    retired = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["retired", "label"]
        constraints = [models.UniqueConstraint(fields=["workspace", "label"], name="one_label")]


class Calibration(models.Model):
    """A comparison with a master. Never changed: a later one takes its place."""

    gauge = models.ForeignKey(Gauge, on_delete=models.CASCADE, related_name="calibrations")
    compared_on = models.DateField()
    reference = models.CharField(max_length=80)
    master_u_kpa = models.FloatField(null=True)
    # [[reference kPa, reading kPa, "as typed", "as typed"], …]: evidence, kept as typed beside the kPa.
    pairs = models.JSONField()
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-compared_on", "-id"]
