from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from ballast.core.rigs import KINDS
from ballast.server.accounts.models import ComingIn, Owned, Person, Workspace
from ballast.server.edge.packed import PackedField


def shown_name(fleet_number: str, name: str) -> str:
    """What a rig is called, its number first."""
    return " ".join(filter(None, (fleet_number, name)))


class Rig(Owned):
    """A vehicle or trailer. Archived, never deleted: its rounds stay readable.

    Hitched rigs are a combination: `head` is the vehicle that tows them all (null: this one stands alone or tows),
    `place` counts from it.
    """

    kind = models.CharField(max_length=20, choices=list(KINDS.items()))
    name = models.CharField(max_length=80)
    fleet_number = models.CharField(max_length=20, blank=True)
    gvwr_kg = models.FloatField(null=True)
    gcwr_kg = models.FloatField(null=True)
    hitch_max_kg = models.FloatField(null=True)
    cargo_kg = models.FloatField(null=True)
    wheelbase_m = models.FloatField(null=True)
    hitch_m = models.FloatField(null=True)
    coupler_m = models.FloatField(null=True)
    top_speed_kmh = models.FloatField(null=True)
    replace_years = models.PositiveSmallIntegerField(null=True)
    checklist = models.JSONField(default=list)
    # The newest that any room was told, and of which day.
    odometer_km = models.FloatField(null=True)
    odometer_on = models.DateField(null=True)
    note = models.CharField(max_length=500, blank=True)
    head = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="hitched")
    place = models.PositiveSmallIntegerField(default=0)
    archived = models.BooleanField(default=False)
    # Laid up on a day until another, at a pressure, and why; empty: it was not since it last rolled.
    laid_up_on = models.DateField(null=True)
    laid_up_until = models.DateField(null=True)
    laid_up_kpa = models.FloatField(null=True)
    laid_up_why = models.CharField(max_length=200, blank=True)
    history = HistoricalRecords(excluded_fields=["odometer_km", "odometer_on"])

    class Meta:
        ordering = ["fleet_number", "name", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["workspace", "fleet_number"],
                condition=~Q(fleet_number="") & Q(archived=False),
                name="one_fleet_number",
            ),
            models.UniqueConstraint(fields=["head", "place"], condition=~Q(head=None), name="one_behind_another"),
        ]

    @property
    def shown_name(self) -> str:
        return shown_name(self.fleet_number, self.name)


class Tag(Owned):
    """A group of one's own: a depot, a customer. There is one only while a rig has it."""

    name = models.CharField(max_length=40)
    rigs = models.ManyToManyField(Rig, related_name="tags")

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["workspace", "name"], name="one_tag_of_a_name")]


class OutOfService(models.Model):
    """A rig that must not roll until a named person signs it off; there is a row only while it is so."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, primary_key=True, related_name="out")
    why = models.CharField(max_length=200)
    since = models.DateTimeField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    # Who must sign it off; null: any manager.
    sign_off = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")


class SignOff(models.Model):
    """That a rig may roll again: why it did not, what was done, and by whose name; append only."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="sign_offs")
    why = models.CharField(max_length=200)
    since = models.DateTimeField()
    out_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    done = models.CharField(max_length=500)
    signed = models.CharField(max_length=80)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-id"]


class Sidewall(models.Model):
    """What stands on a tire. Unknown is null."""

    tire_size = models.CharField(max_length=60)
    tire_make = models.CharField(max_length=80, blank=True)
    load_index_single = models.PositiveSmallIntegerField(null=True)
    load_index_dual = models.PositiveSmallIntegerField(null=True)
    load_range = models.CharField(max_length=4, blank=True)
    max_load_single_kg = models.FloatField(null=True)
    max_load_dual_kg = models.FloatField(null=True)
    sidewall_max_kpa = models.FloatField(null=True)

    class Meta:
        abstract = True


class TireSpec(Sidewall):
    """The tires that an axle or a spare is described with, and their wheel."""

    wheel_max_kpa = models.FloatField(null=True)
    wheel_max_load_kg = models.FloatField(null=True)
    rim_width_in = models.FloatField(null=True)
    rim_low_in = models.FloatField(null=True)
    rim_high_in = models.FloatField(null=True)

    class Meta:
        abstract = True


class Axle(TireSpec):
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="axles")
    number = models.PositiveSmallIntegerField()
    # Behind the first axle, and across; empty where nobody measured.
    position_m = models.FloatField(null=True)
    track_m = models.FloatField(null=True)
    wheels = models.PositiveSmallIntegerField()
    role = models.CharField(max_length=8, blank=True)
    lift = models.BooleanField(default=False)
    share = models.FloatField(null=True)
    gawr_kg = models.FloatField(null=True)
    placard_kpa = models.FloatField(null=True)
    placard_light_kpa = models.FloatField(null=True)
    # The size that the placard is for, where another is fitted.
    placard_size = models.CharField(max_length=60, blank=True)
    # Below this the vehicle's own lamp lights, where that is known or was changed.
    lamp_kpa = models.FloatField(null=True)
    # What was seen of that lamp, as `lamp_seen_of` reads it; null: nothing.
    lamp_seen = models.JSONField(null=True)
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


class Tire(Owned, Sidewall):
    """One tire through its life: where it was fitted stands in its fittings. Retired, never deleted."""

    date_code = models.CharField(max_length=4, blank=True)
    sensor = models.CharField(max_length=40, blank=True)
    # Its own number, or that of its casing; whether its tread runs one way only, and whether it is coarse. Null: not known.
    casing = models.CharField(max_length=40, blank=True)
    one_way = models.BooleanField(null=True)
    coarse = models.BooleanField(null=True)
    diameter_mm = models.FloatField(null=True)
    retired_on = models.DateField(null=True)
    retired_reason = models.CharField(max_length=200, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["id"]


class Fitting(models.Model):
    """A tire at a wheel, from a day on; `removed_on` ends it. Append only but for its end."""

    tire = models.ForeignKey(Tire, on_delete=models.PROTECT, related_name="fittings")
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="fittings")
    wheel = models.CharField(max_length=8)
    fitted_on = models.DateField()
    odometer_km = models.FloatField(null=True)
    tread_mm = models.FloatField(null=True)
    removed_on = models.DateField(null=True)
    removed_reason = models.CharField(max_length=200, blank=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["fitted_on", "id"]
        constraints = [
            models.UniqueConstraint(fields=["tire"], condition=Q(removed_on=None), name="tire_at_one_wheel"),
            models.UniqueConstraint(fields=["rig", "wheel"], condition=Q(removed_on=None), name="one_tire_a_wheel"),
        ]


class Torque(models.Model):
    """Wheel nuts torqued again, which ends the reminder after a wheel was off."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="torques")
    done_on = models.DateField()
    odometer_km = models.FloatField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-odometer_km", "-id"]


class FleetFile(ComingIn):
    """A fleet out of a long file: its rigs stand in a workspace of their own, which nobody sees, until it is done."""

    # Its first row, by which the others are read.
    heading = models.TextField()
    # Null: it is done, and tidied up after.
    apart = models.OneToOneField(Workspace, null=True, on_delete=models.SET_NULL, related_name="+")
    # What it came to.
    rigs = models.PositiveIntegerField(default=0)
    tires = models.PositiveIntegerField(default=0)


class FleetSlice(models.Model):
    """Some rows of the file, by its columns, as they came."""

    of = models.ForeignKey(FleetFile, on_delete=models.CASCADE, related_name="slices")
    number = models.PositiveIntegerField()
    rows = PackedField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["of", "number"], name="fleet_slice_once")]


class FleetStep(models.Model):
    """Some rigs of the file: their rows, each with its line; once worked out, how many stand ready and what is wrong."""

    of = models.ForeignKey(FleetFile, on_delete=models.CASCADE, related_name="steps")
    number = models.PositiveIntegerField()
    rows = PackedField()
    done = models.BooleanField(default=False)
    rigs = models.PositiveIntegerField(default=0)
    tires = models.PositiveIntegerField(default=0)
    faults = models.JSONField(default=list)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["of", "number"], name="fleet_step_once")]
