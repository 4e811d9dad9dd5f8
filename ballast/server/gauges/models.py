from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.gauges import KIND_NAMES, STALE_DAYS, SUPPLIES
from ballast.server.accounts.models import Marked, Owned, Person


class Gauge(Owned):
    label = models.CharField(max_length=40)
    kind = models.CharField(max_length=10, choices=list(KIND_NAMES.items()))
    low_kpa = models.FloatField(default=0)
    high_kpa = models.FloatField()
    resolution_kpa = models.FloatField()
    # What its maker claims, half a width.
    claimed_kpa = models.FloatField(null=True)
    dual_foot = models.BooleanField(default=False)
    # A sensor that measures against sealed air reads low up high.
    sealed = models.BooleanField(default=False)
    battery = models.CharField(max_length=60, blank=True)
    keeper = models.CharField(max_length=60, blank=True)
    # A comparison with a master is due after so many days.
    every_days = models.PositiveSmallIntegerField(default=STALE_DAYS)
    # Why it is suspect until compared again; "": it is not.
    suspicion = models.CharField(max_length=14, blank=True)
    # When it was last found to be so; it stays when it is compared, and is as before where it is taken back.
    doubted_at = models.DateTimeField(null=True)
    # How far its rounds found it above its fellows, and how far that is sure, where that is why.
    found_kpa = models.FloatField(null=True)
    found_within_kpa = models.FloatField(null=True)
    # The device it is heard through over the radio link.
    radio = models.CharField(max_length=40, blank=True)
    retired = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["retired", "label"]
        constraints = [models.UniqueConstraint(fields=["workspace", "label"], name="one_label")]


class DrawerLine(Marked):
    """By what the drawer is searched, counted and ordered: of a gauge, from the day on which it was worked out to its last."""

    gauge = models.OneToOneField(Gauge, on_delete=models.CASCADE, primary_key=True, related_name="line")
    day = models.DateField(null=True)
    # Null: while nothing is done it stays so.
    until = models.DateField(null=True)
    retired = models.BooleanField(default=False)
    label = models.CharField(max_length=40)
    # Label, kind and keeper, in small letters.
    words = models.CharField(max_length=140, blank=True)
    # Something must be said of it before it is believed.
    asks = models.BooleanField(default=False)
    # The last day on which its comparison stands; null: it has none.
    due_on = models.DateField(null=True)
    # How far it may be off in the middle of its range.
    within_kpa = models.FloatField(default=0)

    class Meta:
        indexes = [
            models.Index(fields=["workspace", "retired", "label"], name="drawer_by_label"),
            models.Index(fields=["workspace", "retired", "due_on", "label"], name="drawer_by_due"),
            models.Index(fields=["workspace", "retired", "-within_kpa", "label"], name="drawer_by_doubt"),
        ]


class Calibration(models.Model):
    """A comparison with a master. Never changed: a later one takes its place."""

    gauge = models.ForeignKey(Gauge, on_delete=models.CASCADE, related_name="calibrations")
    compared_on = models.DateField()
    reference = models.CharField(max_length=80)
    # What that is: a gauge of the drawer, a certificate, or (empty) no master at all.
    master = models.CharField(max_length=12, blank=True)
    # The master's own certificate: number, laboratory, valid until.
    certificate = models.CharField(max_length=120, blank=True)
    certificate_until = models.DateField(null=True)
    note = models.CharField(max_length=200, blank=True)
    master_u_kpa = models.FloatField(null=True)
    # [{"reference_kpa", "reading_kpa", "reference_typed", "reading_typed", "direction": "up" | "down" | ""}, …]
    pairs = models.JSONField()
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-compared_on", "-id"]


class Beside(Owned):
    """Gauges that were held to one tire: what each showed, and what was made of it."""

    # [{"gauge": id, "label", "typed", "raw_kpa", "corrected_kpa", "uncertainty_kpa"}, …]
    readings = models.JSONField()
    verdict = models.CharField(max_length=8)
    words = models.JSONField()
    done_at = models.DateTimeField()
    done_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-id"]


class Inflator(Owned):
    label = models.CharField(max_length=40)
    supply = models.CharField(max_length=8, choices=list(SUPPLIES.items()))
    # Where it stalls; of a tank, what stands in it.
    max_kpa = models.FloatField()
    free_l_min = models.FloatField(null=True)
    # The maker's points: [{"pressure_kpa", "flow_l_min"}, …]; they stand in the place of the free flow.
    points = models.JSONField(default=list)
    hose_loss_kpa = models.FloatField(default=0)
    settling_kpa = models.FloatField(default=0)
    on_min = models.FloatField(null=True)
    rest_min = models.FloatField(null=True)
    draws_a = models.FloatField(null=True)
    socket_a = models.FloatField(null=True)
    tank_l = models.FloatField(null=True)
    # Its own display is a gauge of the drawer.
    display = models.ForeignKey(Gauge, null=True, on_delete=models.PROTECT, related_name="+")
    retired = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["retired", "label"]
        constraints = [models.UniqueConstraint(fields=["workspace", "label"], name="one_inflator_label")]


class Deflators(Owned):
    """A set of preset deflators: where they are set to close, and where they did when that was compared."""

    label = models.CharField(max_length=40)
    count = models.PositiveSmallIntegerField()
    set_kpa = models.FloatField()
    # Which wheels and which surface they are set for; empty: any.
    role = models.CharField(max_length=8, blank=True)
    surface = models.CharField(max_length=24, blank=True)
    # What was left in a tire, each time true by a gauge: [{"kpa", "typed", "gauge", "on"}, …]
    closings = models.JSONField(default=list)
    retired = models.BooleanField(default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["retired", "label"]
        constraints = [models.UniqueConstraint(fields=["workspace", "label"], name="one_deflator_label")]
