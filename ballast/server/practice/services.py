import datetime as dt
import random
from collections.abc import Sequence

from django.db import transaction
from django.http import HttpRequest
from pydantic import TypeAdapter

from ballast.core import practice as core
from ballast.core.refusal import Refusal
from ballast.core.working import Line
from ballast.server.accounts import services as accounts
from ballast.server.accounts.actors import Actor, May
from ballast.server.accounts.models import Membership
from ballast.server.edge import clock
from ballast.server.edge.problems import Conflict
from ballast.server.edge.words import PairOut
from ballast.server.edge.writing import over_workspaces
from ballast.server.ground.models import GroundEntry
from ballast.server.practice.left import left_of
from ballast.server.practice.models import Try
from ballast.server.practice.schemas import (
    ExerciseOut,
    JudgementOut,
    LookIn,
    LookOut,
    PracticeOut,
    PractisedOut,
    TryIn,
    TryOut,
)
from ballast.server.practice.world import build, clear
from ballast.server.rounds.models import Reading

_NIGHT_H = 12.0
_LINES = TypeAdapter(list[Line])


def _exercise(key: str) -> core.Exercise:
    if key not in core.EXERCISES:
        raise Refusal("There is no such exercise. Choose one of the list.", "exercise")
    return core.EXERCISES[key]


def _drawn(row: Try) -> core.Drawn:
    return _exercise(row.exercise).draw(random.Random(row.seed))  # noqa: S311: of a situation, not of a secret


def _line(of: core.Exercise, tries: Sequence[Try]) -> ExerciseOut:
    mine = [t for t in tries if t.exercise == of.key and t.outcome != core.OPEN]
    best = max((t.earned or 0.0 for t in mine), default=None)
    return ExerciseOut(
        key=of.key, name=of.name, goal=of.goal, stage=of.stage, minutes=of.minutes, tries=len(mine), done=any(t.outcome == "" for t in mine),
        best=best,
    )  # fmt: skip


def practice(actor: Actor) -> PracticeOut:
    """Every exercise, and how it went for whoever asks."""
    tries = list(Try.objects.filter(person=actor.person))
    lines = [_line(e, tries) for e in core.EXERCISES.values()]
    going = next((t for t in tries if t.outcome == core.OPEN), None)
    return PracticeOut(
        exercises=lines, done=sum(e.done for e in lines), open=going.exercise if going else "",
        workspace=going.workspace_id if going else None,
    )  # fmt: skip


def practised(actor: Actor) -> list[PractisedOut]:
    """For a manager: who has done which exercise. How it went is theirs alone."""
    actor.must(May.PEOPLE)
    people = actor.workspace.memberships.select_related("person").order_by("person__first_name", "id")
    done = (
        Try.objects.filter(outcome="", person__in=[m.person_id for m in people])
        .values_list("person", "exercise")
        .distinct()
    )
    of: dict[int, set[str]] = {}
    for person, exercise in done:
        of.setdefault(person, set()).add(exercise)
    return [
        PractisedOut(name=m.person.shown_name, done=[k for k in core.EXERCISES if k in of.get(m.person_id, ())])
        for m in people
    ]


@over_workspaces()
def begin(request: HttpRequest, actor: Actor, data: TryIn) -> TryOut:
    """Draws a situation and builds its world; the practice of before is over, and cannot be entered any more."""
    of = _exercise(data.exercise)
    last = Try.objects.filter(person=actor.person, exercise=of.key).first()
    if data.again and last is None:
        raise Refusal("It was never tried: there are no numbers to begin it with again.", "again")
    seed = last.seed if data.again and last else random.SystemRandom().randrange(2**31)
    drawn = of.draw(random.Random(seed))
    # A new world begins by the clock on the wall, wherever the last one was.
    clock.set_ahead(dt.timedelta())
    Try.objects.filter(person=actor.person, outcome=core.OPEN).delete()
    clear(actor.person)
    world = accounts.practice_of(actor.person, drawn.scene.step)
    rig = build(Actor(actor.person, world, Membership.Role.MANAGER), drawn.scene, of.name)
    row = Try.objects.create(
        person=actor.person, exercise=of.key, seed=seed, workspace=world, rig=rig.pk, begun_at=clock.now()
    )
    request.session["workspace"] = world.pk
    return _out(row)


def _of(actor: Actor) -> Try:
    """The try whose world this is. Raises Conflict outside of practice."""
    if not actor.practices:
        raise Conflict("This is no practice. Begin an exercise first.")
    return Try.objects.get(workspace=actor.workspace, person=actor.person)


def _open(actor: Actor) -> Try:
    row = _of(actor)
    if row.outcome != core.OPEN:
        raise Conflict("This try is judged. Begin it again, or another.")
    return row


def present(actor: Actor) -> TryOut:
    return _out(_of(actor))


def _out(row: Try) -> TryOut:
    of, drawn = _exercise(row.exercise), _drawn(row)
    scene = drawn.scene
    assert row.workspace_id is not None
    return TryOut(
        exercise=_line(of, list(Try.objects.filter(person=row.person_id, exercise=row.exercise))), workspace=row.workspace_id, rig=row.rig,
        begun_at=row.begun_at, facts=list(drawn.facts), hints=list(of.hints[: row.hints]), hints_left=len(of.hints) - row.hints,
        hint_costs=core.HINT_COSTS, reasons=[PairOut(key=k, name=n) for k, n in of.reasons.items()],
        gauges=sorted(scene.gauges), wheels=list(scene.stands), pads=list(scene.pads),
        warm=scene.over_c > 0 and row.cooled_at is None, judgement=_judgement(row, of, drawn),
    )  # fmt: skip


def _judgement(row: Try, of: core.Exercise, drawn: core.Drawn) -> JudgementOut | None:
    if row.outcome == core.OPEN:
        return None
    said = core.said(of, row.outcome, row.reason_right, row.earned or 0.0)
    return JudgementOut(
        right=said.right, reason_right=said.reason_right, earned=said.earned, words=said.words, comes_to=said.comes_to,
        reason=of.reasons[core.because(of, drawn)], working=list(drawn.working),
        left=_LINES.validate_python(row.left),
    )  # fmt: skip


@transaction.atomic
def hint(actor: Actor) -> TryOut:
    """Takes the next hint, which costs."""
    row = _open(actor)
    if row.hints >= len(_exercise(row.exercise).hints):
        raise Conflict("There is no further hint.")
    row.hints += 1
    row.save(update_fields=["hints"])
    return _out(row)


def look(actor: Actor, data: LookIn) -> LookOut:
    """What a gauge shows at a wheel, as somebody left it since; or a pad under it. Looking is no reading: that is entered."""
    row = _of(actor)
    scene = _drawn(row).scene
    if not data.gauge:
        if data.wheel not in scene.pads:
            raise Refusal("No pad can be put there. Choose a wheel of the list.", "wheel")
        return LookOut(kpa=None, kg=scene.pads[data.wheel])
    if data.gauge not in scene.gauges or data.wheel not in scene.stands:
        raise Refusal(
            "No such gauge or wheel is here. Choose those of the list.",
            "gauge" if data.gauge not in scene.gauges else "wheel",
        )
    set_at, when = _left_at(row, data.wheel)
    # What was set since the night is cold already.
    cooled = row.cooled_at is not None and (when is None or when < row.cooled_at)
    return LookOut(kpa=scene.shows(data.gauge, data.wheel, set_at, cooled), kg=None)


def _left_at(row: Try, wheel: str) -> tuple[float | None, dt.datetime | None]:
    """What somebody left a wheel at since the try began, true [kPa], and when: after the air of a round, or off the road."""
    readings = Reading.objects.filter(
        round__rig=row.rig, wheel=wheel, after=True, received_at__gte=row.begun_at, round__abandoned_at=None
    )
    entries = GroundEntry.objects.filter(
        plan__rig=row.rig, wheel=wheel, raw_kpa__isnull=False, withdrawn_at=None, received_at__gte=row.begun_at
    )
    found = [(when, kpa) for kpa, when in readings.values_list("corrected_kpa", "received_at")]
    found += [(when, kpa) for kpa, when in entries.values_list("raw_kpa", "received_at") if kpa is not None]
    when, kpa = max(found, default=(None, None))
    return kpa, when


@transaction.atomic
def pass_night(actor: Actor) -> TryOut:
    """Lets a night pass, by the clock of practice: warm tires are cold then."""
    row = _open(actor)
    if row.cooled_at is None:
        row.cooled_at = clock.now()
        row.save(update_fields=["cooled_at"])
        actor.workspace.ahead_h += _NIGHT_H
        actor.workspace.save(update_fields=["ahead_h"])
    return _out(row)


@transaction.atomic
def judge(actor: Actor, reason: str) -> TryOut:
    """Judges what was left on record, once. Raises Conflict where nothing was done yet that could be judged."""
    row = _open(actor)
    of, drawn = _exercise(row.exercise), _drawn(row)
    if reason not in of.reasons:
        raise Refusal("There is no such reason. Choose one of the list.", "reason")
    left = left_of(row, reason)
    said = core.judge(of, drawn, left, row.hints)
    if said.outcome == core.OPEN:
        raise Conflict(f"{said.words} {of.goal}")
    row.reason, row.outcome, row.reason_right, row.earned, row.judged_at = (
        reason,
        said.outcome,
        said.reason_right,
        said.earned,
        clock.now(),
    )
    row.left = _LINES.dump_python(list(core.left_lines(left, of.reasons[reason])), mode="json")
    row.save()
    return _out(row)


def leave(request: HttpRequest, actor: Actor) -> None:
    """Back to where the work is real; a try that is open can be gone on with."""
    if actor.practices:
        request.session["workspace"] = next((w.pk for w in accounts.workspaces(actor.person)), None)


@over_workspaces()
def forget(request: HttpRequest, actor: Actor) -> PracticeOut:
    """Begins practice anew: how everything went is forgotten, and nothing of it stays."""
    leave(request, actor)
    clear(actor.person)
    Try.objects.filter(person=actor.person).delete()
    return practice(actor)
