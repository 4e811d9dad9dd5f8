from django.db import models

from ballast.server.accounts.models import Owned, Person, Workspace
from ballast.server.rigs.models import Rig


class Standing(models.Model):
    """What there is to say of a rig, as it was worked out: for lists, searches and counts over many rigs.

    The database itself counts `marks` up in the transaction of whatever changes it (`marks.py`), so nothing that is stored
    goes unnoticed. It counts while it knows of every mark, from when it was worked out until its moment; past that whoever
    reads it works it out anew.
    """

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, primary_key=True, related_name="standing")
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    marks = models.PositiveIntegerField(default=0)
    # How many of them it knows of; less than none: it was never worked out.
    known = models.IntegerField(default=-1)
    made_at = models.DateTimeField(null=True)
    # Null: while nothing is done it stays so.
    until = models.DateTimeField(null=True)
    # By what the Yard is ordered, and what it is searched for.
    urgency = models.SmallIntegerField(default=0)
    asks = models.BooleanField(default=False)
    # What its matters are about, each between spaces.
    about = models.CharField(max_length=200, blank=True)
    number = models.CharField(max_length=200, blank=True)
    name = models.CharField(max_length=200, blank=True)
    words = models.TextField(blank=True)
    weighed_on = models.DateField(null=True)
    last_round = models.DateTimeField(null=True)
    # The line of the Yard, in the form that `standings` gives it.
    line = models.JSONField(default=dict)
    # What a morning goes by (`awaited`): what it says of the rig, its tires, and what was measured of predictions. No list but
    # This morning's reads it. Where the fields of the arrays become others, a migration marks all that is kept.
    morning = models.JSONField(default=dict)
    tires = models.BinaryField(default=bytes)
    measured = models.BinaryField(default=bytes)

    class Meta:
        indexes = [models.Index(fields=["workspace", "urgency", "number"])]


class View(Owned):
    """What a person looks for in the Yard again and again, under a name of theirs."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="views")
    name = models.CharField(max_length=40)
    # As it stands in the address of the Yard.
    query = models.CharField(max_length=500)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["workspace", "person", "name"], name="one_view_of_a_name")]
