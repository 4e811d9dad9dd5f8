from django.db import models

from ballast.server.accounts.models import Owned, Person


class Table(Owned):
    """A load-inflation table as printed. Never changed: a new edition names the old one."""

    size = models.CharField(max_length=40)
    line = models.CharField(max_length=80, blank=True)
    source = models.CharField(max_length=120)
    page = models.CharField(max_length=40, blank=True)
    service = models.CharField(max_length=20, blank=True)
    load_range = models.CharField(max_length=4, blank=True)
    load_index_single = models.PositiveSmallIntegerField(null=True)
    load_index_dual = models.PositiveSmallIntegerField(null=True)
    # Up to what speed its loads hold, where the maker says so.
    speed_kmh = models.FloatField(null=True)
    sample = models.BooleanField(default=False)
    pressure_unit = models.CharField(max_length=4)
    mass_unit = models.CharField(max_length=4)
    # Cells as printed, in the units above: evidence. The kPa and kg follow from them.
    steps = models.JSONField()
    single = models.JSONField()
    dual = models.JSONField(null=True)
    replaces = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="replaced_by")
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)
    # By somebody else than who entered it: read against the source a second time.
    checked_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    checked_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["size", "line", "-id"]
