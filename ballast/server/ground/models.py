from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.gas import Air
from ballast.core.ground import KIT_KINDS, OUTCOMES
from ballast.server.accounts.models import Owned, Person
from ballast.server.gauges.models import Deflators, Gauge, Inflator
from ballast.server.rigs.models import Rig


class Surface(Owned):
    """A row of a workspace's surfaces, hardest first by `place`; a workspace without rows goes by those that ship."""

    place = models.PositiveSmallIntegerField()
    key = models.CharField(max_length=24)
    name = models.CharField(max_length=40)
    share_steered = models.FloatField()
    share_driven = models.FloatField()
    share_trailer = models.FloatField()
    floor_steered_kpa = models.FloatField()
    floor_driven_kpa = models.FloatField()
    floor_trailer_kpa = models.FloatField()
    # Null: the road's own speed.
    speed_kmh = models.FloatField(null=True)
    recovery = models.BooleanField(default=False)
    pattern = models.CharField(max_length=8, default="plain")
    history = HistoricalRecords()

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["workspace", "key"], name="one_surface_key")]


class AxleOnGround(models.Model):
    """What is asked of an axle for the ground: its role where its kind does not say it, and what its maker allows."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="on_ground")
    number = models.PositiveSmallIntegerField()
    role = models.CharField(max_length=8, blank=True)
    least_kpa = models.FloatField(null=True)
    words = models.CharField(max_length=200, blank=True)
    said_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    said_at = models.DateTimeField()
    history = HistoricalRecords()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["rig", "number"], name="axle_on_ground_once")]


class GroundPlan(models.Model):
    """A way off the road and back, of a whole combination: open until a cold round at road numbers is sealed.

    `text` is its chain as it was opened, in the form that `stored` gives it: what is edited later does not reach into it.
    """

    uuid = models.UUIDField(unique=True)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="ground_plans")
    opened_at = models.DateTimeField()
    received_at = models.DateTimeField()
    opened_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    place = models.CharField(max_length=80, blank=True)
    text = models.JSONField()
    # Which stretch is in hand.
    at = models.PositiveSmallIntegerField(default=0)
    elevation_m = models.FloatField()
    station_kpa = models.FloatField(null=True)
    heavy = models.BooleanField()
    cold_after_h = models.FloatField(null=True)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.PROTECT, related_name="+")
    # Nothing aboard reaches road pressure, and it was opened all the same.
    no_way_back = models.BooleanField(default=False)
    back_words = models.JSONField()
    recovery_reason = models.CharField(max_length=200, blank=True)
    # Vehicles that stay as they are: {rig id: reason}.
    left_out = models.JSONField(default=dict)
    closed_at = models.DateTimeField(null=True)
    closed_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    # The sealed round that closed it; a number, for rounds are a room above.
    closed_round = models.PositiveIntegerField(null=True)
    undone_at = models.DateTimeField(null=True)
    # Why the last sealed round did not close it.
    why_open = models.JSONField(default=list)

    class Meta:
        ordering = ["-opened_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["rig"], condition=models.Q(closed_at=None, undone_at=None), name="one_open_ground_plan"
            )
        ]


class GroundPart(models.Model):
    """A vehicle of a plan."""

    plan = models.ForeignKey(GroundPlan, on_delete=models.CASCADE, related_name="parts")
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="ground_parts")
    place = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["plan", "rig"], name="vehicle_once_a_plan")]


class GroundEntry(models.Model):
    """What was done at a wheel of a plan; append only. The newest of a wheel counts, but for one that was taken back."""

    uuid = models.UUIDField(unique=True)
    plan = models.ForeignKey(GroundPlan, on_delete=models.CASCADE, related_name="entries")
    wheel = models.CharField(max_length=8)
    step = models.PositiveSmallIntegerField()
    done = models.CharField(max_length=10)
    typed = models.CharField(max_length=40, blank=True)
    raw_kpa = models.FloatField(null=True)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.PROTECT, related_name="+")
    # True, and cold, in the air that numbers were set in then; null: it was not read.
    kpa = models.FloatField(null=True)
    air_c = models.FloatField(null=True)
    sure_kpa = models.FloatField(default=0)
    # From what it was let out, and how long that took; null: it was not timed.
    from_kpa = models.FloatField(null=True)
    minutes = models.FloatField(null=True)
    reason = models.CharField(max_length=200, blank=True)
    # What it meant beside its number, in the tire as it was.
    words = models.JSONField(null=True)
    # Where it lies beside its number: below, at, above; empty: it was not read.
    beside = models.CharField(max_length=5, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    done_at = models.DateTimeField()
    received_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["done_at", "id"]

    @property
    def set_in(self) -> Air | None:
        """The air that its cold pressure counts in; None: it was not read. Its plan at hand."""
        return Air(self.air_c, self.plan.elevation_m, self.plan.station_kpa) if self.air_c is not None else None


class PlaceNote(Owned):
    """What a place taught: at which pressure somebody got through, or did not."""

    place = models.CharField(max_length=80)
    surface = models.CharField(max_length=24)
    surface_name = models.CharField(max_length=40)
    kpa = models.FloatField()
    outcome = models.CharField(max_length=8, choices=list(OUTCOMES.items()))
    note = models.CharField(max_length=200, blank=True)
    on = models.DateField()
    rig = models.ForeignKey(Rig, null=True, on_delete=models.SET_NULL, related_name="+")
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-on", "-id"]
        indexes = [models.Index(fields=["workspace", "place"])]


class KitItem(models.Model):
    """A thing that rides with a rig."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="kit")
    place = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=9, choices=list(KIT_KINDS.items()))
    label = models.CharField(max_length=60, blank=True)
    count = models.PositiveSmallIntegerField(default=1)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.CASCADE, related_name="+")
    inflator = models.ForeignKey(Inflator, null=True, on_delete=models.CASCADE, related_name="+")
    deflators = models.ForeignKey(Deflators, null=True, on_delete=models.CASCADE, related_name="+")
    charged_on = models.DateField(null=True)
    replace_by = models.DateField(null=True)
    fuse_a = models.FloatField(null=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["place", "id"]


class Valve(models.Model):
    """The valve of a wheel: its stem and cap, when its core was changed, and whether a hand reaches it."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="valves")
    wheel = models.CharField(max_length=8)
    stem = models.CharField(max_length=6, blank=True)
    flow_through = models.BooleanField(null=True)
    reachable = models.BooleanField(null=True)
    core_changed_on = models.DateField(null=True)
    note = models.CharField(max_length=120, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["wheel"]
        constraints = [models.UniqueConstraint(fields=["rig", "wheel"], name="one_valve_a_wheel")]
