from django.db import models

from ballast.server.accounts.models import Person
from ballast.server.edge.packed import PackedField
from ballast.server.edge.withdrawn import NotWithdrawn
from ballast.server.rigs.models import Rig
from ballast.server.tables.models import Table
from ballast.server.weighing.models import LoadState, Weighing


class RigPolicy(models.Model):
    """How the targets of one rig are chosen and kept; null is as in the workspace."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, related_name="policy")
    reserve = models.FloatField(null=True)
    edge = models.FloatField(null=True)
    step = models.CharField(max_length=10, null=True)  # noqa: DJ001
    school = models.CharField(max_length=12, null=True)  # noqa: DJ001
    between = models.CharField(max_length=12, null=True)  # noqa: DJ001
    temperature = models.CharField(max_length=14, null=True)  # noqa: DJ001
    check_days = models.PositiveSmallIntegerField(null=True)
    cold_after_h = models.FloatField(null=True)
    spare_over = models.BooleanField(null=True)
    set_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField(auto_now=True)


class ChalkResult(models.Model):
    """What the chalk said of an axle in a load state. Append only but for `withdrawn_at`; the newest counts."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="chalk_results")
    load_state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="+")
    number = models.PositiveSmallIntegerField()
    kpa = models.FloatField()
    typed = models.CharField(max_length=40)
    done_on = models.DateField()
    note = models.CharField(max_length=500, blank=True)
    # By a guided trial that ended even; anything else is a note, and no school.
    even = models.BooleanField(default=False)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-done_on", "-id"]


class TargetSet(models.Model):
    """Targets put in force for a whole rig: an event. The newest is in force, the earlier stay readable.

    Without a weighing they are provisional, from the placard. Taken back they stay stored and are in force no more: `objects`
    leaves them out, `every` does not.
    """

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="target_sets")
    uuid = models.UUIDField(null=True, unique=True)
    load_state = models.ForeignKey(LoadState, on_delete=models.PROTECT, related_name="target_sets")
    weighing = models.ForeignKey(Weighing, null=True, on_delete=models.PROTECT, related_name="+")
    reserve = models.FloatField()
    edge = models.FloatField()
    step = models.CharField(max_length=10)
    school = models.CharField(max_length=12, default="table")
    between = models.CharField(max_length=12, default="step up")
    # What the answer was computed from, to tell later that something has changed since.
    inputs = models.JSONField()
    # Every edition that had a part: of mixed tires and of a placard for another size too.
    tables = models.ManyToManyField(Table, related_name="target_sets")
    # The spares' own pressures, and what was said of the axles together.
    spares = models.JSONField(default=list)
    notes = models.JSONField(default=list)
    put_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    put_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True)
    withdrawn_by = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="+")

    objects = NotWithdrawn["TargetSet"]()
    every = models.Manager["TargetSet"]()

    class Meta:
        ordering = ["-id"]


class TargetAxle(models.Model):
    """One axle's band. `target_kpa` null: see `state`. `answer` keeps the working.

    `table` is the edition that was chosen for the tires described.
    """

    target_set = models.ForeignKey(TargetSet, on_delete=models.CASCADE, related_name="axles")
    number = models.PositiveSmallIntegerField()
    state = models.CharField(max_length=20)
    table = models.ForeignKey(Table, null=True, on_delete=models.PROTECT, related_name="+")
    floor_kpa = models.FloatField(null=True)
    target_kpa = models.FloatField(null=True)
    ceiling_kpa = models.FloatField(null=True)
    # What gave the floor: a table's load, its first column, the sidewall by proportion, the road.
    floor_from = models.CharField(max_length=12, default="load")
    own_kpa = models.FloatField(null=True)
    # Why this axle of a light rig goes below its placard; empty: it does not.
    trial = models.CharField(max_length=300, blank=True)
    # Held anywhere between the target and this, and how that felt; null: it is one number.
    range_kpa = models.FloatField(null=True)
    feel = models.CharField(max_length=120, blank=True)
    answer = PackedField()

    class Meta:
        ordering = ["number"]
