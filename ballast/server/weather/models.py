from django.db import models

from ballast.server.accounts.models import Owned, Person


class Record(Owned):
    """Hourly temperatures of a place that a person supplied: a weather service of their own.

    `hours` are °C from `start` (UTC, a whole hour) on; null where the file had none.
    """

    name = models.CharField(max_length=80)
    elevation_m = models.FloatField()
    time_zone = models.CharField(max_length=40)
    start = models.DateTimeField()
    hours = models.JSONField()
    brought_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    brought_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name", "id"]
        constraints = [models.UniqueConstraint(fields=["workspace", "name"], name="one_record_a_place")]
