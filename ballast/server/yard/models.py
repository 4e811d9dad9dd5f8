from django.db import models

from ballast.server.accounts.models import Marked, Owned, Person
from ballast.server.rigs.models import Rig


class Standing(Marked):
    """What there is to say of a rig, from when it was worked out until its moment: for lists, searches and counts over many rigs."""

    rig = models.OneToOneField(Rig, on_delete=models.CASCADE, primary_key=True, related_name="standing")
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
