from typing import Any, Self

from django.contrib.auth.models import AbstractUser
from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.targets import DEFAULT_EDGE, DEFAULT_RESERVE


class Person(AbstractUser):
    """Somebody who signs in. Units are theirs, wherever they are."""

    # A system of `core.units`: "us", "metric", or what each quantity is shown in.
    units = models.CharField(max_length=24, default="us")

    @property
    def shown_name(self) -> str:
        return self.get_full_name() or self.username


class World(models.Model):
    """Which world this database holds, in its one row: the made-up one of the demo, or a real one."""

    mode = models.CharField(max_length=10)


class Workspace(models.Model):
    """A fleet or a household. Nothing in one is seen from another.

    How targets are chosen and kept, where a rig has no way of its own, stands here.
    """

    name = models.CharField(max_length=80)
    reserve = models.FloatField(default=DEFAULT_RESERVE)
    edge = models.FloatField(default=DEFAULT_EDGE)
    step = models.CharField(max_length=10, default="1 psi")
    school = models.CharField(max_length=12, default="table")
    between = models.CharField(max_length=12, default="step up")
    temperature = models.CharField(max_length=14, default="morning")
    check_days = models.PositiveSmallIntegerField(default=7)
    # Hours parked that count as cold; null: 3 light, 5 heavy.
    cold_after_h = models.FloatField(null=True)
    spare_over = models.BooleanField(default=False)
    place_key = models.CharField(max_length=40, blank=True)
    # Whose practice it is; null: a real one. A practice workspace is one try's world, and counts nowhere.
    practice_of = models.ForeignKey(Person, null=True, on_delete=models.CASCADE, related_name="+")
    # In practice alone: so much later it is there than by the real clock, in hours.
    ahead_h = models.FloatField(default=0)
    history = HistoricalRecords()

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    class Role(models.TextChoices):
        MANAGER = "manager", "Manager"
        TECHNICIAN = "technician", "Technician"
        VIEWER = "viewer", "Viewer"

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="memberships")
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=10, choices=Role.choices)
    history = HistoricalRecords()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "workspace"], name="once_per_workspace")]


class OwnedQuerySet(models.QuerySet[Any]):
    def of(self, workspace: Workspace | int) -> Self:
        """Only what belongs to a workspace: the first step of every query."""
        return self.filter(workspace=workspace)


class Owned(models.Model):
    """What belongs to one workspace."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    objects = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True
