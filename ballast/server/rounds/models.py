from django.db import models

from ballast.core.gas import Air
from ballast.core.lookback import noise_kpa
from ballast.server.accounts.models import Person, Workspace
from ballast.server.edge.packed import PackedField
from ballast.server.edge.withdrawn import NotWithdrawn
from ballast.server.gauges.models import Gauge
from ballast.server.ground.models import GroundPlan
from ballast.server.rigs.models import Rig, Tire
from ballast.server.targets.models import TargetSet

# Where the air of a round is from, if of a simulated service.
MADE_UP_AIR = "made up"


class Round(models.Model):
    """One check of a whole rig, or of a combination from its tow vehicle.

    Open until sealed; sealed it is never changed. What is long of it is its `text`, which no list reads.
    """

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="rounds")
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    place = models.CharField(max_length=80, blank=True)
    time_zone = models.CharField(max_length=40, default="UTC")
    outside_c = models.FloatField()
    morning_c = models.FloatField(null=True)
    dawn_c = models.FloatField(null=True)
    # Every dawn until the next check, °C and how many days ahead; empty: the coming one alone.
    dawns = PackedField(default=list)
    station_kpa = models.FloatField(null=True)
    temperature = models.CharField(max_length=14, default="morning")
    cold_after_h = models.FloatField(null=True)
    elevation_m = models.FloatField()
    heavy = models.BooleanField()
    standing_h = models.FloatField()
    driven = models.CharField(max_length=10, default="highway")
    # False: it stood since the last round, so nothing has rolled low.
    rolled = models.BooleanField(default=True)
    sunny = models.CharField(max_length=5, blank=True)
    # The ground plan that was open when it was read, and whether it was kept: then its numbers are what the round is held
    # against, else the road's. Null: none was open.
    ground_plan = models.ForeignKey(GroundPlan, null=True, on_delete=models.PROTECT, related_name="rounds")
    plan_kept = models.BooleanField(null=True)
    # Of just some wheels, for air after a rotation: it is no check of the whole rig.
    partial = models.BooleanField(default=False)
    # The temperature of the heated shop it stood in; null: it stood outside.
    shop_c = models.FloatField(null=True)
    # Where its air is from: typed by hand, or a weather service; empty in rounds of before that was kept.
    air_source = models.CharField(max_length=8, blank=True)
    odometer_km = models.FloatField(null=True)
    # What the weather service said when the air was entered by hand.
    service_c = models.FloatField(null=True)
    opened_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    opened_at = models.DateTimeField()
    sealed_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    sealed_at = models.DateTimeField(null=True)
    unread_reason = models.CharField(max_length=200, blank=True)
    # What is missing for wheels without a target number, as it was said when it was sealed.
    without_target = models.CharField(max_length=500, blank=True)
    # The name put on the signature line.
    signed = models.CharField(max_length=80, blank=True)
    # The round in a few words, and what it said last of each wheel: at hand for lists without its text.
    summary = models.CharField(max_length=200, blank=True)
    last_words = PackedField(null=True)
    # The split in two sentences, and whether something shared is odd; renewed when it, or one before it, is amended.
    split_words = PackedField(default=list)
    odd = models.BooleanField(default=False)
    # What all its road tires gained beyond weather and loss [kPa], where it was read with another gauge than the time before.
    gauge_shared_kpa = models.FloatField(null=True)
    gauge_before = models.ForeignKey(Gauge, null=True, on_delete=models.PROTECT, related_name="+")
    # When the next check is due by what was found, and why.
    # The usual days between checks, as the way was when it was opened.
    check_days = models.PositiveSmallIntegerField(default=7)
    next_on = models.DateField(null=True)
    next_why = models.CharField(max_length=200, blank=True)
    abandoned_at = models.DateTimeField(null=True)
    abandoned_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["-opened_at", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["rig"],
                condition=models.Q(sealed_at=None, abandoned_at=None),
                name="one_open_round",
            )
        ]
        indexes = [
            models.Index(fields=["rig", "sealed_at"]),
            models.Index(fields=["opened_at"], name="rounds_by_time"),
            # Those few that were read with another gauge than the time before.
            models.Index(fields=["rig"], name="rounds_of_changes", condition=models.Q(gauge_shared_kpa__isnull=False)),
        ]

    @property
    def here(self) -> Air:
        """The air it was read in."""
        return Air(self.outside_c, self.elevation_m, self.station_kpa)


class RoundText(models.Model):
    """What is long of a round, each in the form that `stored` gives it; read when one round is opened, never by a list."""

    round = models.OneToOneField(Round, on_delete=models.CASCADE, primary_key=True, related_name="text")
    # The wheels in walking order with what each is held against, as they were when the round was opened.
    sheet = PackedField()
    # The round as it was sealed, and as it stands since something in it was put right; null: it is open, nothing was.
    result = PackedField(null=True)
    stands = PackedField(null=True)
    # It taken apart into weather, shared and own.
    split = PackedField(null=True)


class RoundPart(models.Model):
    """A vehicle of a round, with the targets that were in force for it when the round was opened."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="parts")
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="round_parts")
    place = models.PositiveSmallIntegerField()
    target_set = models.ForeignKey(TargetSet, null=True, on_delete=models.PROTECT, related_name="+")

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["round", "rig"], name="vehicle_once_a_round")]


class Reading(models.Model):
    """One reading as it was entered; append only. The newest of a wheel and kind counts.

    Taken back by whoever entered it, it stays stored and counts for nothing: `objects` leaves it out, `every` does not.
    """

    uuid = models.UUIDField(unique=True)
    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="readings")
    wheel = models.CharField(max_length=8)
    after = models.BooleanField(default=False)
    typed = models.CharField(max_length=40)
    raw_kpa = models.FloatField()
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    corrected_kpa = models.FloatField()
    uncertainty_kpa = models.FloatField()
    outside_calibration = models.BooleanField(default=False)
    not_rolled = models.BooleanField(default=False)
    # The newest reading of this wheel that the person saw; another in between is a conflict to be shown.
    saw = models.UUIDField(null=True)
    # When it was read, by the clock of the page; received later where there was no network.
    read_at = models.DateTimeField(null=True)
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)

    objects = NotWithdrawn["Reading"]()
    every = models.Manager["Reading"]()

    class Meta:
        ordering = ["id"]


class WheelNote(models.Model):
    """What was seen at a wheel beside its pressure; append only. Each says only what it adds, the newest word counts."""

    uuid = models.UUIDField(unique=True)
    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="notes")
    wheel = models.CharField(max_length=8)
    # The fields of `core.rounds.Note` of which something was said.
    says = models.JSONField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class Take(models.Model):
    """Who takes which wheels of a round, with which gauge."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="takes")
    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="+")
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    wheels = models.JSONField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["round", "person"], name="one_take_a_person")]


class Late(models.Model):
    """A reading or a note that came when its round was sealed already: it stands beside it until it is taken in or left out."""

    uuid = models.UUIDField(unique=True)
    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="late")
    # As `stored` gives a late reading or a late note.
    body = models.JSONField()
    note = models.BooleanField(default=False)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField()
    # "taken" or "left" once somebody decided; empty: it waits.
    settled = models.CharField(max_length=5, blank=True)
    settled_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")
    settled_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["round"], condition=models.Q(settled=""), name="late_waiting")]


class Amendment(models.Model):
    """Something of a sealed round put right, with the reason; what was entered stays as it was.

    A reading (with `gauge`), what was seen at a wheel (`says`, as a note's), or, without a wheel, the air and the time of the
    round (`says`: the fields that changed, each with what it `was` and is `now`).
    """

    uuid = models.UUIDField(unique=True)
    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="amendments")
    wheel = models.CharField(max_length=8, blank=True)
    after = models.BooleanField(default=False)
    typed = models.CharField(max_length=40, blank=True)
    raw_kpa = models.FloatField(null=True)
    gauge = models.ForeignKey(Gauge, null=True, on_delete=models.PROTECT, related_name="+")
    corrected_kpa = models.FloatField(null=True)
    uncertainty_kpa = models.FloatField(null=True)
    outside_calibration = models.BooleanField(default=False)
    # Whether the tire had rolled like this; null: as it was said with the reading.
    not_rolled = models.BooleanField(null=True)
    says = models.JSONField(null=True)
    reason = models.CharField(max_length=200)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField()

    class Meta:
        ordering = ["id"]


class Scatter(models.Model):
    """How far the readings of a workspace scatter by hand [kPa] and its rounds by thermometer (a share), as learned.

    `rounds` counts what it was learned from.
    """

    workspace = models.OneToOneField(Workspace, on_delete=models.CASCADE, related_name="scatter")
    hand_kpa = models.FloatField()
    thermometer = models.FloatField()
    rounds = models.PositiveIntegerField()


class WalkOrder(models.Model):
    """The order in which a rig and what is behind it is walked; wheels that are not named follow in the usual one."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="walk")
    codes = models.JSONField()


class Service(models.Model):
    """One tire in one sealed round: true cold pressures as found and as left, and what is known of it by then.

    Derived from the round's readings and amendments, one row a wheel, so that history is read without them.
    """

    # Found by the indexes below, which begin with them.
    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="services", db_index=False)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="services", db_index=False)
    tire = models.ForeignKey(Tire, null=True, on_delete=models.SET_NULL, related_name="services", db_index=False)
    wheel = models.CharField(max_length=8)
    side = models.SmallIntegerField(default=0)
    spare = models.BooleanField(default=False)
    at = models.DateTimeField()
    found_kpa = models.FloatField()
    left_kpa = models.FloatField(null=True)
    uncertainty_kpa = models.FloatField()
    raw_kpa = models.FloatField()
    air_c = models.FloatField()
    elevation_m = models.FloatField()
    absolute_kpa = models.FloatField()
    gauge = models.ForeignKey(Gauge, on_delete=models.PROTECT, related_name="+")
    here_kpa = models.FloatField(null=True)
    floor_kpa = models.FloatField(null=True)
    word = models.CharField(max_length=12)
    # Loss a day at 20 °C with its error, and what speaks for a leak, from the rounds up to this one.
    rate_kpa_day = models.FloatField(default=0)
    rate_error = models.FloatField(default=0)
    measured = models.BooleanField(default=False)
    score = models.FloatField(default=0)
    named = models.BooleanField(default=False)
    since = models.DateTimeField(null=True)
    own_kpa = models.FloatField(null=True)
    # What reading it warm left open, at 95 %; null: it was cold.
    estimate_kpa = models.FloatField(null=True)
    # How far its next reading scatters around what is foretold, one standard deviation, losses and gauges apart; null: as usual.
    noise_kpa = models.FloatField(null=True)
    newest = models.BooleanField(default=True)
    # Air was let out or put in off the road since the service before: its history starts anew here.
    anew = models.BooleanField(default=False)

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.UniqueConstraint(fields=["round", "rig", "wheel"], name="tire_once_a_round")]
        indexes = [
            models.Index(fields=["rig", "at"]),
            models.Index(fields=["tire", "at"]),
            models.Index(fields=["rig"], condition=models.Q(newest=True), name="newest_services"),
        ]

    @property
    def scatters_kpa(self) -> float:
        """`noise_kpa`, or the usual one."""
        return noise_kpa(self.stood_kpa, self.absolute_kpa) if self.noise_kpa is None else self.noise_kpa

    @property
    def stood_kpa(self) -> float:
        """The pressure it was left with: as set, else as found."""
        return self.found_kpa if self.left_kpa is None else self.left_kpa


class TreadDepth(models.Model):
    """How deep a tread was in one sealed round [mm], a row a wheel at which it was measured; derived, as `Service` is."""

    round = models.ForeignKey(Round, on_delete=models.CASCADE, related_name="treads")
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="treads")
    tire = models.ForeignKey(Tire, null=True, on_delete=models.SET_NULL, related_name="treads")
    wheel = models.CharField(max_length=8)
    at = models.DateTimeField()
    # By the odometer of its own vehicle; null: that was not noted, as of every trailer.
    odometer_km = models.FloatField(null=True)
    inner_mm = models.FloatField(null=True)
    centre_mm = models.FloatField(null=True)
    outer_mm = models.FloatField(null=True)
    # The least of them, for lists.
    least_mm = models.FloatField()

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.UniqueConstraint(fields=["round", "rig", "wheel"], name="tread_once_a_round")]
        indexes = [models.Index(fields=["rig", "at"]), models.Index(fields=["tire", "at"])]
