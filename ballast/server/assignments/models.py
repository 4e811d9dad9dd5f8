from typing import Self

from django.db import models
from django.db.models import Exists, OuterRef, Q

from ballast.server.accounts.models import Membership, Owned, OwnedQuerySet, Person
from ballast.server.rigs.models import Rig
from ballast.server.rounds.models import Round


class Crew(Owned):
    """Some people who do rounds together: what is given to them any of them does."""

    name = models.CharField(max_length=80)
    people = models.ManyToManyField(Person, related_name="crews")

    class Meta:
        ordering = ["name", "id"]
        constraints = [models.UniqueConstraint(fields=["workspace", "name"], name="one_crew_of_a_name")]


def name_of(person: Person | None, crew: Crew | None) -> str:
    """What is called who does it."""
    return person.shown_name if person else crew.name if crew else ""


class AssignmentQuerySet(OwnedQuerySet):
    def open(self) -> Self:
        """What is still to do, by somebody who may still come in: what was given to others is nobody's."""
        here = Membership.objects.filter(workspace=OuterRef("workspace"), off_at=None)
        return self.filter(
            Exists(here.filter(person=OuterRef("person"))) | Exists(here.filter(person__crews=OuterRef("crew"))),
            ended_at=None, rig__archived=False,
        )  # fmt: skip


class Assignment(Owned):
    """A round of a rig that somebody has to do by a day. Done by a sealed round alone; handed over, it is a new row."""

    rig = models.ForeignKey(Rig, on_delete=models.CASCADE, related_name="assignments")
    # One of the two.
    person = models.ForeignKey(Person, null=True, on_delete=models.PROTECT, related_name="assignments")
    crew = models.ForeignKey(Crew, null=True, on_delete=models.PROTECT, related_name="assignments")
    on = models.DateField()
    note = models.CharField(max_length=200, blank=True)
    # What was given in one act, which is taken back in one.
    batch = models.UUIDField(db_index=True)
    by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField()
    # Done, taken back or handed over.
    ended_at = models.DateTimeField(null=True)
    round = models.ForeignKey(Round, null=True, on_delete=models.PROTECT, related_name="assignments")
    replaced_by = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="replaces")

    objects = AssignmentQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["on", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(person=None, crew__isnull=False) | Q(crew=None, person__isnull=False),
                name="one_who_does_it",
            ),
            models.UniqueConstraint(fields=["rig", "on"], condition=Q(ended_at=None), name="one_open_a_day"),
        ]
        indexes = [models.Index(fields=["workspace", "on"], condition=Q(ended_at=None), name="open_assignments")]

    @property
    def to(self) -> str:
        """The name of who has it to do."""
        return name_of(self.person, self.crew)
