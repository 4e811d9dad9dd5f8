from typing import Any, Self

from django.contrib.auth.models import AbstractUser
from django.db import models
from simple_history.models import HistoricalRecords

from ballast.core.targets import DEFAULT_EDGE, DEFAULT_RESERVE
from ballast.server.edge import clock


def person_name(first_name: str | None, username: str | None) -> str:
    """What a person is called."""
    return first_name or username or ""


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
    # From then on they may not come in here; null: they may. What they did keeps their name.
    off_at = models.DateTimeField(null=True)
    history = HistoricalRecords()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "workspace"], name="once_per_workspace")]


class Ends(models.Model):
    """What is good until it is used, or taken back."""

    ended_at = models.DateTimeField(null=True)

    class Meta:
        abstract = True

    def end(self) -> None:
        self.ended_at = clock.now()
        self.save(update_fields=["ended_at"])


class Link(Ends):
    """A way in that works once and ends: into a workspace, or, with a `member`, to a new password of somebody in it."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    key_hash = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField()
    ends_at = models.DateTimeField()
    # Of an invitation: for whom, and what they may do.
    name = models.CharField(max_length=80, blank=True)
    role = models.CharField(max_length=10, choices=Membership.Role.choices, blank=True)
    member = models.ForeignKey(Membership, null=True, on_delete=models.CASCADE, related_name="links")
    # The second factor goes too.
    factor_off = models.BooleanField(default=False)


class SecondFactor(models.Model):
    """What shows that whoever knows the password also has the device: RFC 6238, six digits, thirty seconds."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, primary_key=True, related_name="factor")
    secret = models.CharField(max_length=64)
    # Null: begun, and no code of it was seen yet. It counts for nothing.
    confirmed_at = models.DateTimeField(null=True)
    # The thirty seconds of the last code that was taken: none is taken twice.
    last_step = models.BigIntegerField(default=0)


class RecoveryCode(models.Model):
    """A code in the place of the device's, once."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="recovery_codes")
    key_hash = models.CharField(max_length=64)
    used_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "key_hash"], name="code_once")]


class OpenSession(models.Model):
    """A sign-in that has not ended: from where, with what, when it was last seen."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="open_sessions")
    session_key = models.CharField(max_length=40, unique=True)
    began_at = models.DateTimeField()
    seen_at = models.DateTimeField()
    address = models.CharField(max_length=45, blank=True)
    agent = models.CharField(max_length=300, blank=True)


class ApiKey(Ends):
    """A person's key for scripts in one workspace. It may what its role may, and no more than the person may there."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="api_keys")
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    name = models.CharField(max_length=80)
    key_hash = models.CharField(max_length=64, unique=True)
    role = models.CharField(max_length=10, choices=Membership.Role.choices)
    made_at = models.DateTimeField()
    used_on = models.DateField(null=True)

    class Meta:
        ordering = ["-id"]


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


class Marked(models.Model):
    """What is kept beside a row of a workspace, as it was worked out of it and of others.

    The database itself counts `marks` up in the transaction of whatever changes it (`edge/triggers`): it counts while it knows of
    every mark, and for as long as the day or the hour lets it; past that whoever reads it works it out anew.
    """

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="+")
    marks = models.PositiveIntegerField(default=0)
    # How many of them it knows of; less than none: it was never worked out.
    known = models.IntegerField(default=-1)

    class Meta:
        abstract = True


class ComingIn(Owned):
    """A file that comes in part by part: nothing of it counts until it is done."""

    uuid = models.UUIDField(unique=True)
    name = models.CharField(max_length=80)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    begun_at = models.DateTimeField()
    done_at = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        ordering = ["-begun_at", "-id"]
