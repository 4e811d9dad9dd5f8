from django.db import models
from django.db.models import Q

from ballast.server.accounts.models import Person
from ballast.server.rigs.models import Rig


class LoadState(models.Model):
    """How a rig is loaded: empty, half, trip-ready, or its own. The one in force rules targets and rounds."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="load_states")
    name = models.CharField(max_length=40)
    in_force = models.BooleanField(default=False)
    # Where the label gives two rows, this state goes by the one for a light load.
    light_row = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["rig", "name"], name="load_state_once"),
            models.UniqueConstraint(fields=["rig"], condition=Q(in_force=True), name="one_load_state_in_force"),
        ]


class Weighing(models.Model):
    """A scale ticket, or loads worked out from one (`way` "worked out"). Never changed: amended by a new one.

    `hitch_kg` is the load on the hitch: of a pulled trailer its own, of a tow vehicle what it carries.
    """

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="weighings")
    load_state = models.ForeignKey(LoadState, on_delete=models.PROTECT, related_name="weighings")
    way = models.CharField(max_length=12, default="ticket")
    weighed_on = models.DateField()
    scale = models.CharField(max_length=80)
    # By a simulated scale: nothing stood on it.
    made_up = models.BooleanField(default=False)
    uuid = models.UUIDField(null=True, unique=True)
    resolution_kg = models.FloatField(default=0)
    odometer_km = models.FloatField(null=True)
    # What the scale said of all that stood on it, where a ticket prints it.
    gross_kg = models.FloatField(null=True)
    gross_typed = models.CharField(max_length=40, blank=True)
    hitch_kg = models.FloatField(null=True)
    hitch_typed = models.CharField(max_length=40, blank=True)
    bars = models.CharField(max_length=8, blank=True)
    # All axles of the combination on this ticket, and what they were called.
    combined_kg = models.FloatField(null=True)
    hitched = models.CharField(max_length=300, blank=True)
    # The passes as read: [{"words", "on", "apart", "kg", "typed"}, …]
    passes = models.JSONField(default=list)
    ready = models.JSONField(default=list)
    # Worked out: from which weighing, with what put where.
    basis = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="worked_out")
    placed = models.JSONField(default=list)
    part_of = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="parts")
    note = models.CharField(max_length=500, blank=True)
    amends = models.ForeignKey("self", null=True, on_delete=models.PROTECT, related_name="amended_by")
    entered_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    entered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-weighed_on", "-id"]


class AxleWeight(models.Model):
    """What the scale said of one axle; null is not weighed. `typed` keeps the entries as typed."""

    weighing = models.ForeignKey(Weighing, on_delete=models.CASCADE, related_name="axles")
    number = models.PositiveSmallIntegerField()
    whole_kg = models.FloatField(null=True)
    left_kg = models.FloatField(null=True)
    right_kg = models.FloatField(null=True)
    lifted = models.BooleanField(default=False)
    # The axles that were weighed with it as one number; what is kept of it is its assumed share.
    of = models.JSONField(default=list)
    typed = models.JSONField(default=dict)

    class Meta:
        ordering = ["number"]
