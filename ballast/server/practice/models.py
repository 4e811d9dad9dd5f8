from django.db import models

from ballast.core.practice import OPEN
from ballast.server.accounts.models import Person, Workspace


class Try(models.Model):
    """Somebody's go at an exercise, in a world of its own; only they see how it went. What it is about is drawn anew from its seed."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="tries")
    exercise = models.CharField(max_length=12)
    seed = models.PositiveIntegerField()
    # Null: it is over, and its world is gone.
    workspace = models.OneToOneField(Workspace, null=True, on_delete=models.SET_NULL, related_name="+")
    # A number alone, for it goes with its world.
    rig = models.PositiveIntegerField()
    begun_at = models.DateTimeField()
    # When a night was let pass, by the clock of practice; null: it was not.
    cooled_at = models.DateTimeField(null=True)
    hints = models.PositiveSmallIntegerField(default=0)
    # How it came out: the reason given, right (""), a mistake by its key, or "open".
    reason = models.CharField(max_length=12, blank=True)
    outcome = models.CharField(max_length=12, blank=True, default=OPEN)
    reason_right = models.BooleanField(default=False)
    earned = models.FloatField(null=True)
    # What was on record when it was judged, in lines.
    left = models.JSONField(default=list)
    judged_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-begun_at", "-id"]
        indexes = [models.Index(fields=["person", "exercise"])]
