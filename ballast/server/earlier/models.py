from django.db import models

from ballast.server.accounts.models import ComingIn
from ballast.server.rigs.models import Rig


class EarlierFile(ComingIn):
    """A file of earlier readings."""

    # The rig that all of it is of; null: its rows say of which each is.
    rig = models.ForeignKey(Rig, null=True, on_delete=models.CASCADE, related_name="+")
    columns = models.JSONField()
    delimiter = models.CharField(max_length=1)
    # Where all of it was read, for rows that do not say [m]; null: not known.
    elevation_m = models.FloatField(null=True)


class EarlierSlice(models.Model):
    """Some lines of a file: how many readings they held, and what was wrong with them."""

    of = models.ForeignKey(EarlierFile, on_delete=models.CASCADE, related_name="slices")
    number = models.PositiveIntegerField()
    rows = models.PositiveIntegerField()
    faults = models.JSONField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["of", "number"], name="earlier_slice_once")]


class EarlierReading(models.Model):
    """An earlier reading, as its gauge showed it: not corrected, and judged by nobody. Unknown air is null."""

    of = models.ForeignKey(EarlierFile, on_delete=models.CASCADE, related_name="readings")
    slice = models.PositiveIntegerField()
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="earlier")
    wheel = models.CharField(max_length=8)
    at = models.DateTimeField()
    kpa = models.FloatField()
    outside_c = models.FloatField(null=True)
    elevation_m = models.FloatField(null=True)
    # As the file calls it.
    gauge = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["at", "id"]
        indexes = [models.Index(fields=["rig", "at"], name="earlier_of_rig"), models.Index(fields=["of", "slice"])]
