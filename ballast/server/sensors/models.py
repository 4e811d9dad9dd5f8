from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.sensors import KINDS, LOW_SHARE
from ballast.server.accounts.models import Ends, Person
from ballast.server.rigs.models import Rig


class SensorSystem(models.Model):
    """What a rig has of sensors; empty and null: nobody said."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="sensors")
    kind = models.CharField(max_length=8, choices=list(KINDS.items()), blank=True)
    # The wheels that are heard, by the rig's own codes; a spare among them or not, null: not known.
    wheels = models.JSONField(default=list)
    spare_heard = models.BooleanField(null=True)
    # Sealed to the air at the sea, they show less than a gauge up in the hills; null: not known.
    sealed = models.BooleanField(null=True)
    # After how long of rolling it speaks, and how it learns its wheels anew.
    refresh_min = models.PositiveSmallIntegerField(null=True)
    relearn = models.CharField(max_length=200, blank=True)
    batteries_on = models.DateField(null=True)
    battery_years = models.PositiveSmallIntegerField(null=True)
    # Low is so much under the target.
    low_share = models.FloatField(default=LOW_SHARE)
    history = HistoricalRecords()


class Glance(models.Model):
    """What somebody read off a display, an app or a cap: evidence, never a round. Append only but for `withdrawn_at`."""

    uuid = models.UUIDField(unique=True)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="glances")
    at = models.DateTimeField()
    source = models.CharField(max_length=8)
    # How long it had rolled, or stood; null: not known.
    rolled_min = models.FloatField(null=True)
    stood_h = models.FloatField(null=True)
    air_c = models.FloatField()
    elevation_m = models.FloatField()
    absolute_kpa = models.FloatField(null=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["at", "id"]
        indexes = [models.Index(fields=["rig", "at"])]


class GlanceNumber(models.Model):
    """A wheel of a glance as it was shown. `fresh` false: the display had not refreshed it, it judges nothing."""

    glance = models.ForeignKey(Glance, on_delete=models.CASCADE, related_name="numbers")
    wheel = models.CharField(max_length=8)
    typed = models.CharField(max_length=40)
    kpa = models.FloatField()
    tire_c = models.FloatField(null=True)
    fresh = models.BooleanField(default=True)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["glance", "wheel"], name="wheel_once_a_glance")]


class Heard(models.Model):
    """When a rig's newest number is of: a row of its own, as it is written with every number."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="heard")
    at = models.DateTimeField()


class AlarmTold(models.Model):
    """An alarm as it was told, by which number. It stays, whatever comes late."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="alarms_told")
    wheel = models.CharField(max_length=8)
    what = models.CharField(max_length=12)
    sets = models.BooleanField()
    at = models.DateTimeField()
    by = models.FloatField()
    told_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-id"]
        constraints = [models.UniqueConstraint(fields=["rig", "wheel", "what", "sets", "at"], name="told_once")]


class Receiver(Ends):
    """A device that sends what a rig's sensors say. It alone knows its key: here stands what the key comes to."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="receivers")
    name = models.CharField(max_length=60)
    key_hash = models.CharField(max_length=64, unique=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    added_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class Drive(models.Model):
    """A drive of a rig as a receiver tells it. A simulated one is of no tire: nothing but its own page counts it."""

    uuid = models.UUIDField(unique=True)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="drives")
    receiver = models.ForeignKey(Receiver, on_delete=models.PROTECT, null=True, related_name="drives")
    # The file that it was brought in from; empty: it was sent.
    source = models.CharField(max_length=80, blank=True)
    # What the road stands for, seed and all; null: a real one.
    simulated = models.JSONField(null=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    started_at = models.DateTimeField()
    heard_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    # What its wheels were held to, and since when that is so; the drive as far as it was followed; few numbers that stand for all.
    held = models.TextField()
    held_at = models.DateTimeField()
    followed = models.TextField()
    kept = models.TextField(default="[]")
    # The messages that are not in a block yet, a line each.
    pending = models.TextField(default="")
    count = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["-started_at", "-id"]
        indexes = [models.Index(fields=["rig", "-started_at"])]


class DriveBlock(models.Model):
    """Messages of a drive, a line each, compressed."""

    drive = models.ForeignKey(Drive, on_delete=models.CASCADE, related_name="blocks")
    text = models.BinaryField()

    class Meta:
        ordering = ["id"]


class NumbersImport(models.Model):
    """A file of numbers on its way in: nothing of it counts until it is done, and then it is a drive."""

    uuid = models.UUIDField(unique=True)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=80)
    columns = models.JSONField()
    delimiter = models.CharField(max_length=1)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    begun_at = models.DateTimeField(auto_now_add=True)


class ImportSlice(models.Model):
    """Some rows of a file as they were read, compressed, and what was wrong with them."""

    of = models.ForeignKey(NumbersImport, on_delete=models.CASCADE, related_name="slices")
    number = models.PositiveIntegerField()
    rows = models.PositiveIntegerField()
    read = models.BinaryField()
    faults = models.JSONField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["of", "number"], name="slice_once")]


class LampCase(models.Model):
    """A time that the lamp came on, from the light to its cause. Append only."""

    uuid = models.UUIDField(unique=True)
    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="lamp_cases")
    at = models.DateTimeField()
    # As answered on the way, readings as typed.
    answers = models.JSONField()
    outcome = models.CharField(max_length=10)
    words = models.JSONField()
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-at", "-id"]
