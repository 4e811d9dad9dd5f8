"""The demo world: Copperfinch Sky Caravan and Thistledown Weekenders. All of it is made up.

Everything is entered through the services that people use, at the time at which it happened.
"""

import datetime as dt
import random
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid4

from django.db import transaction
from django.utils import timezone

from ballast.core import rounds as core_rounds
from ballast.core.gauges import correct
from ballast.core.units import PSI_KPA
from ballast.demo import rigs as data
from ballast.demo.clock import at
from ballast.demo.tires import TireFleet
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership, Person, Workspace
from ballast.server.air import trips
from ballast.server.air.now import set_air
from ballast.server.air.schemas import AirKeptIn, TripIn
from ballast.server.assignments import services as assignments
from ballast.server.assignments.schemas import CrewIn, GiveOnceIn, ToIn
from ballast.server.gauges.inflators import inflators
from ballast.server.gauges.inflators import save as save_inflator
from ballast.server.gauges.models import Gauge
from ballast.server.gauges.schemas import CalibrationIn, GaugeIn, InflatorIn, SuspectIn
from ballast.server.gauges.services import compare, save_gauge, suspect
from ballast.server.ground import kit
from ballast.server.ground import services as ground
from ballast.server.ground.schemas import EntryIn, KitIn, LearnedIn, OpenIn, StepIn
from ballast.server.refine import services as refine
from ballast.server.refine.rotation import rotate
from ballast.server.refine.schemas import KeepChalkPassIn, RotateIn, TrialIn
from ballast.server.rigs.combinations import hitch
from ballast.server.rigs.fittings import fit
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import FitIn, RigIn
from ballast.server.rigs.services import save_rig, wheels_of
from ballast.server.rounds import entries, stored
from ballast.server.rounds import services as rounds
from ballast.server.rounds.quick import fill
from ballast.server.rounds.schemas import ConditionsIn, QuickWheelIn, WheelNoteIn
from ballast.server.rounds.seal import seal
from ballast.server.tables.samples import SAMPLES
from ballast.server.tables.services import take_sample
from ballast.server.targets.schemas import TargetsIn
from ballast.server.targets.services import put_in_force
from ballast.server.weighing.schemas import GuideIn, SaveWhatIfIn, WeighingIn
from ballast.server.weighing.services import guide, save_weighing
from ballast.server.weighing.whatif import save_worked_out

PEOPLE = (
    ("fleet-maintainer", "Fleet maintainer", "Copperfinch Sky Caravan", Membership.Role.MANAGER, "us"),
    ("technician", "Technician", "Copperfinch Sky Caravan", Membership.Role.TECHNICIAN, "us"),
    ("auditor", "Auditor", "Copperfinch Sky Caravan", Membership.Role.VIEWER, "metric"),
    ("rv-owner", "RV owner", "Thistledown Weekenders", Membership.Role.MANAGER, "us"),
)
PLACE = "tarn-hollow"
DUNES = "Quill Dunes"
# Fourteen months of weekly rounds; everything was weighed anew, and set anew, ten weeks ago.
WEEKS, SINCE_WEIGHED = 61, 10
# Nobody read anything in these weeks; in this one somebody took the dial.
MISSED, WRONG_GAUGE = range(24, 28), 41
# So far below its target the coach's slow one is found at last [kPa]: it wants air by any answer.
LOW_KPA = 28.0
# With what gauge some rigs are read by week, where it is not the usual one.
LENT = {13: "G5", 18: "G5", 24: "G5", 29: "G5", 36: "G4", 39: "G5", 42: "G4", 43: "G5"}
# What gauges show beyond their comparison [kPa]: the dial was dropped, and G4 since its comparison in spring, which
# nobody told: its rounds find it out.
OFF_KPA = {"G2": -20.0, "G4": 16.0}
# Where the observatory stood, by week; else at the depot.
ON_TOUR = {
    6: "ember-lake",
    14: "saltgrass-flat",
    15: "marrow-pass",
    22: "quill-dunes",
    33: "ember-lake",
    47: "saltgrass-flat",
}
# How far readings by practised hands scatter, one standard deviation [kPa].
HAND = 1.2
# The van's treads are measured in these weeks, at these kilometers a week; what its axles lose in a thousand [mm]: inner, centre, outer.
TREAD_WEEKS, KM_A_WEEK, VAN_KM = range(0, WEEKS, 10), 380, 98_060
LOSES_MM = {"1": (0.26, 0.2, 0.26), "2": (0.13, 0.13, 0.13)}
# An hour after dawn at the made-up places, in UTC.
MONTH = 30.44
CHECK_HOUR = dt.timedelta(hours=14)


def built() -> bool:
    return Workspace.objects.filter(name=PEOPLE[0][2]).exists()


@transaction.atomic
def build(shift: int = 0) -> None:
    """Builds both workspaces, ending today; `shift` draws other hands, gauges and losses."""
    today = timezone.now().replace(hour=0, minute=0, second=0, microsecond=0)
    start = today - dt.timedelta(weeks=SINCE_WEIGHED, days=3) + CHECK_HOUR
    first = start - dt.timedelta(weeks=WEEKS - SINCE_WEIGHED)
    with at(first - dt.timedelta(days=MONTH * 3)):
        actors = _people()
    maintainer, technician, owner = actors["fleet-maintainer"], actors["technician"], actors["rv-owner"]
    _copperfinch(maintainer, technician, first, start, today, shift)
    _thistledown(owner, first, today, shift)


def _people() -> dict[str, Actor]:
    actors: dict[str, Actor] = {}
    for username, name, workspace_name, role, units in PEOPLE:
        workspace, _ = Workspace.objects.get_or_create(name=workspace_name, defaults={"place_key": PLACE})
        person = Person(username=username, first_name=name, units=units)
        person.set_unusable_password()
        person.save()
        Membership.objects.create(person=person, workspace=workspace, role=role)
        actors[username] = Actor(person, workspace, role)
    return actors


def _gauge(actor: Actor, label: str, kind: str, high: str, resolution: str, **more: Any) -> Gauge:
    data = {"label": label, "kind": kind, "low_kpa": 0, "high_kpa": high, "resolution_kpa": resolution, **more}
    return save_gauge(actor, GaugeIn.model_validate(data))


def _compare(
    actor: Actor, gauge: Gauge, on: dt.date, reference: str, pairs: list[tuple[float, float]], u: float, **more: Any
) -> None:
    top = max(range(len(pairs)), key=lambda i: pairs[i][0])
    compare(
        actor,
        gauge.pk,
        CalibrationIn.model_validate(
            {
                "compared_on": on.isoformat(),
                "reference": reference,
                "master_u_kpa": u,
                "pairs": [
                    {"reference": a, "reading": b, "direction": "up" if i <= top else "down"}
                    for i, (a, b) in enumerate(pairs)
                ],
                **more,
            }
        ),
    )


def _copperfinch(
    maintainer: Actor, technician: Actor, first: dt.datetime, start: dt.datetime, today: dt.datetime, shift: int
) -> None:  # fmt: skip
    with at(first - dt.timedelta(days=MONTH * 2)):
        fleet = {
            body["fleet_number"]: save_rig(maintainer, RigIn.model_validate(body))
            for body in (
                data.COACH, data.PERIGEE, data.SYZYGY, data.BIG_DOME, data.VAN, data.PICKUP, data.PENUMBRA, data.ANALEMMA,
                data.MOTORCYCLE, data.FLATBED,
            )
        }  # fmt: skip
        for trailer, tow in (("CF-02", "CF-01"), ("CF-04", "CF-03"), ("CF-07", "CF-06")):
            hitch(technician, fleet[trailer].pk, fleet[tow].pk)
        for number, rig in fleet.items():
            _fit_tires(technician, number, rig, today)
    with at(first):
        drawer = _drawer(maintainer, today)
        g1, g2 = drawer["G1"], drawer["G2"]
        for key in SAMPLES:
            if key != "carrier-st205-75r15":
                take_sample(maintainer, key)
        for rig in fleet.values():
            set_air(maintainer, rig.pk, AirKeptIn(place_key=PLACE))
    weighed_first = first - dt.timedelta(days=MONTH / 2)
    for number, tickets in data.WEIGHED.items():
        for ticket in tickets:
            if ticket.get("months"):
                _weigh(technician, fleet[number], ticket, today - dt.timedelta(days=MONTH * ticket["months"]), first)
            elif "load_state" not in ticket:
                _weigh(technician, fleet[number], ticket | {"odometer": None}, weighed_first, first)
    with at(first):
        for rig in fleet.values():
            put_in_force(maintainer, rig.pk, TargetsIn())
    histories = _histories(technician, maintainer, fleet, drawer, today, shift)
    for history in histories:
        history.walk(range(WEEKS - SINCE_WEIGHED))
    for number, tickets in data.WEIGHED.items():
        for ticket in tickets:
            if not ticket.get("months"):
                _weigh(technician, fleet[number], ticket, start, start)
    with at(start):
        for rig in fleet.values():
            put_in_force(maintainer, rig.pk, TargetsIn())
        suspect(maintainer, g2.pk, SuspectIn(suspicion="drop"))
        save_worked_out(maintainer, fleet["CF-01"].pk, SaveWhatIfIn.model_validate(data.guest_night(fleet["CF-01"].pk)))
        _move_tires(technician, fleet["CF-05"], start)
        # The chalk trial of the pickup, under way, and the coach's next tour.
        _chalk_trial(technician, fleet["CF-06"], g1)
        trips.keep(technician, fleet["CF-01"].pk, TripIn.model_validate({"legs": data.TOUR}))
    for history in histories:
        if history.rig.fleet_number == "CF-05":
            history.tires.swap("1L", "1R")
        history.walk(range(WEEKS - SINCE_WEIGHED, WEEKS))
    _quill_dunes(technician, fleet["CF-06"], g1, today)
    _give_rounds(maintainer, technician, fleet, today)


def _give_rounds(maintainer: Actor, technician: Actor, fleet: dict[str, Rig], today: dt.datetime) -> None:
    """The technician's day: the coach first of three, one of them over since yesterday; the crew has the van tomorrow."""
    places = {m.person_id: m.pk for m in maintainer.workspace.memberships.all()}
    own = ToIn(member=places[technician.person.pk])
    with at(today - dt.timedelta(days=2)):
        both = [places[maintainer.person.pk], places[technician.person.pk]]
        (crew,) = assignments.keep_crew(maintainer, CrewIn(name="Depot crew", members=both))
        days = (
            (("CF-01",), 0, own, "Before the tour"), (("CF-03",), 0, own, ""), (("CF-08",), -1, own, ""),
            (("CF-05",), 1, ToIn(crew=crew.id), "Nuts too"),
        )  # fmt: skip
        for n, (numbers, ahead, to, note) in enumerate(days):
            rigs, on = [fleet[number].pk for number in numbers], (today + dt.timedelta(days=ahead)).date()
            assignments.give(maintainer, GiveOnceIn(uuid=UUID(int=900 + n), rigs=rigs, to=to, on=on, note=note))


def _chalk_trial(technician: Actor, pickup: Rig, gauge: Gauge) -> None:
    """Two passes on the front axle: too high, and still a little."""
    begun = TrialIn.model_validate({"number": 1, "gauge": gauge.pk, "reason": "It wanders at its placard"})
    (trial,) = refine.begin(technician, pickup.pk, begun).trials
    passes: tuple[tuple[str, list[str]], ...] = (
        ("51 psi", ["left", "gone", "left"]), ("46 psi", ["left", "faint", "left"]),
    )  # fmt: skip
    for n, (pressure, marks) in enumerate(passes):
        body = {"uuid": UUID(int=60 + n), "pressure": pressure, "left": marks, "right": marks}
        refine.keep(technician, trial.id, KeepChalkPassIn.model_validate(body))


def _quill_dunes(technician: Actor, pickup: Rig, gauge: Gauge, today: dt.datetime) -> None:
    """The pickup and its trailer stand in the dunes, on soft sand since yesterday; the kit brings them back."""
    with at(today - dt.timedelta(hours=40)):
        inflator = next(i for i in inflators(technician) if i.supply == "clamps")
        aboard = [
            {"kind": "gauge", "gauge": gauge.pk}, {"kind": "inflator", "inflator": inflator.pk}, {"kind": "plugs", "count": 10},
            {"kind": "caps", "count": 6}, {"kind": "cores", "count": 4}, {"kind": "jack"},
        ]  # fmt: skip
        kit.keep(technician, pickup.pk, KitIn.model_validate({"items": aboard}))
        learned = {"uuid": UUID(int=6), "chain": ["firm"], "place": DUNES, "gauge": gauge.pk}
        before = ground.open_plan(technician, pickup.pk, OpenIn.model_validate(learned)).open
        assert before is not None
        ground.learn(technician, before.uuid, LearnedIn(step=0, outcome="stuck"))
        ground.undo(technician, before.uuid)
    with at(today - dt.timedelta(hours=17)):
        chain = {"uuid": UUID(int=7), "chain": ["gravel", "soft", "gravel"], "place": DUNES, "gauge": gauge.pk}
        plan = ground.open_plan(technician, pickup.pk, OpenIn.model_validate(chain)).open
        assert plan is not None
        ground.step(technician, plan.uuid, StepIn(step=1))
        for n, wheel in enumerate(ground.ground(technician, pickup.pk, gauge.pk).wheels):
            shown = next(o for o in wheel.numbers if o.surface == "soft").out["highway"].shows_kpa
            entry = {
                "wheel": wheel.code, "step": 1, "pressure": f"{shown / PSI_KPA:.1f} psi", "standing_h": 0, "gauge": gauge.pk,
            }  # fmt: skip
            ground.enter(technician, plan.uuid, UUID(int=100 + n), EntryIn.model_validate(entry))
        ground.learn(technician, plan.uuid, LearnedIn(step=1, outcome="through"))


def _drawer(maintainer: Actor, today: dt.datetime) -> dict[str, Gauge]:
    """The gauges with their comparisons, and the inflators; gives what rounds are read with, by label."""
    now = timezone.now().date()
    spring = today.date() - dt.timedelta(days=190)
    master = _gauge(maintainer, "M1", "master", "1400 kPa", "0.1 kPa", dual_foot=True, keeper="Workshop")
    g1 = _gauge(
        maintainer, "G1", "digital", "1100 kPa", "0.1 psi", dual_foot=True, claimed_kpa="1 psi", keeper="Technician",
        battery="Two coin cells, new in spring", radio="radio-digital",
    )  # fmt: skip
    g2 = _gauge(maintainer, "G2", "dial", "1100 kPa", "2 psi", radio="radio-dropped", dual_foot=True)
    g3 = _gauge(maintainer, "G3", "stick", "1100 kPa", "1 psi")
    g4, g5 = (
        _gauge(maintainer, label, "digital", "1100 kPa", "0.1 psi", dual_foot=True, claimed_kpa="1 psi", keeper="Van")
        for label in ("G4", "G5")
    )
    display = _gauge(maintainer, "I2 display", "inflator", "1100 kPa", "0.5 psi")
    certificate = {
        "certificate": "131, standards bench of Tarn Hollow",
        "certificate_until": today.date() + dt.timedelta(days=200),
    }
    _compare(
        maintainer, master, now, "Standards bench", [(200, 200), (600, 600.2), (1000, 1000.3)], 0.5, certificate="118"
    )
    _compare(
        maintainer, g1, now, "M1",
        [(100, 100.5), (200, 200.9), (400, 402.0), (600, 603.1), (800, 804.2), (1000, 1005.9), (600, 603.5)], 0.6,
    )  # fmt: skip
    _compare(maintainer, g3, now - dt.timedelta(days=20), "M1", [(300, 305), (600, 611), (800, 812)], 1.0)
    with at(today - dt.timedelta(days=190)):
        _compare(
            maintainer, master, spring, "Standards bench", [(200, 200.1), (600, 600.2), (1000, 1000.4)], 0.5, certificate="131"
        )  # fmt: skip
        _compare(
            maintainer, g1, spring, "M1",
            [(100, 100.7), (200, 201.2), (400, 402.6), (600, 604), (800, 805.4), (1000, 1007), (600, 604.4), (200, 201.4)], 0.6,
            **certificate,
        )  # fmt: skip
        for gauge, high in ((g4, 1.4), (g5, -1.0)):
            pairs = [(p, p + high) for p in (200.0, 400.0, 600.0, 800.0, 1000.0)]
            _compare(maintainer, gauge, spring, "M1", pairs, 0.6)
        _compare(maintainer, display, spring, "M1", [(200, 212), (600, 609), (800, 806)], 1.0)
    for body in data.INFLATORS:
        link = {"display": display.pk} if body["label"] == "I2" else {}
        save_inflator(maintainer, InflatorIn.model_validate(body | link))
    return {gauge.label: gauge for gauge in (g1, g2, g4, g5)}


def _date_code(today: dt.date, years: float) -> str:
    made = (today - dt.timedelta(days=years * 365.25)).isocalendar()
    return f"{made.week:02d}{made.year % 100:02d}"


def _fit_tires(actor: Actor, number: str, rig: Rig, now: dt.datetime) -> None:
    """Every wheel gets its tire, with the date code it would have today."""
    today = now.date()
    fitted = timezone.now().date()
    for wheel in wheels_of(rig):
        other = data.OTHER.get((number, wheel.code), {})
        years = other.get("age", data.AGE_YEARS[number])
        # What is younger than the rig's time with us was fitted when it was new.
        on = max(fitted, today - dt.timedelta(days=years * 365.25 - 40))
        new = {
            "date_code": _date_code(today, years), "tire_make": other.get("make", ""), "sensor": other.get("sensor", ""),
            "diameter": other.get("diameter"),
        }  # fmt: skip
        with at(dt.datetime.combine(on, dt.time(10), dt.UTC)):
            fit(actor, rig, FitIn.model_validate({"wheel": wheel.code, "new": new, "fitted_on": on, "tread": "9 mm"}))


def _move_tires(actor: Actor, van: Rig, on: dt.datetime) -> None:
    """The van's wheels change sides, and nobody has torqued them again yet."""
    moves = {"1L": "1R", "1R": "1L"}
    turn = {"moves": moves, "moved_on": on.date(), "odometer": f"{VAN_KM + 80} km", "looked": True}
    rotate(actor, van.pk, RotateIn.model_validate(turn))


def _weigh(actor: Actor, rig: Rig, ticket: dict[str, Any], on: dt.datetime, entered: dt.datetime) -> None:
    body = {"load_state": "trip-ready", **ticket}
    guided = body.pop("guided", None)
    body.pop("months", None)
    if guided:
        steps = guide(actor, GuideIn(rig=rig.pk, way=body["way"], with_trailers=body.get("with_trailers", False)))
        body["passes"] = [
            {"words": s.words, "on": s.on, "apart": s.apart, "kg": f"{kg} kg"}
            for s, kg in zip(steps, guided, strict=True)
        ]
    with at(max(on, entered)):
        save_weighing(actor, rig.pk, WeighingIn.model_validate(body | {"weighed_on": on.date().isoformat()}))


def _thistledown(owner: Actor, start: dt.datetime, today: dt.datetime, shift: int) -> None:
    with at(start):
        gauge = _gauge(owner, "Camper gauge", "digital", "700 kPa", "0.5 psi")
        take_sample(owner, "carrier-st205-75r15")
        camper = save_rig(owner, RigIn.model_validate(data.CAMPER))
        set_air(owner, camper.pk, AirKeptIn(place_key="ember-lake"))
        ticket = {
            "scale": "Ember Lake grain scale", "resolution_kg": "10 kg", "bars": "slack", "hitch_kg": "95 kg",
            "axles": [{"left_kg": "690 kg", "right_kg": "720 kg"}],
        }  # fmt: skip
        _weigh(owner, camper, ticket, start, start)
        put_in_force(owner, camper.pk, TargetsIn())
    _noctule(owner, today, shift)
    History(owner, camper, {gauge.label: gauge}, TireFleet(13 + shift), today - dt.timedelta(days=5), 1.2).walk(
        range(WEEKS)
    )


def _noctule(owner: Actor, today: dt.datetime, shift: int) -> None:
    """What most people have: a car by its placard, a stick that was never compared, a display with a mind of its own."""
    tires = TireFleet(14 + shift)
    first, *_ = (today - dt.timedelta(days=days) for days, _ in data.NOCTULE_READ)
    with at(first):
        stick = _gauge(owner, "Glovebox stick", "stick", "60 psi", "1 psi")
        display = _gauge(owner, "Dashboard", "display", "60 psi", "1 psi")
        car = save_rig(owner, RigIn.model_validate(data.NOCTULE))
        _fit_tires(owner, "Noctule", car, today)
        put_in_force(owner, car.pk, TargetsIn())
    for days, outside_c in data.NOCTULE_READ:
        moment = today - dt.timedelta(days=days) + CHECK_HOUR
        with at(moment):
            given = {"gauge": stick.pk, "standing_h": 11, "outside_c": outside_c, "elevation_m": 640}
            begun = rounds.opened(owner, car.pk, ConditionsIn.model_validate(given))
            read_in = stored.conditions(begun)
            tires.pass_days(21, 0)
            # The stick does not reach what the spare needs.
            lines = [line for line in stored.lines(begun) if not line.spare]
            read = [_read(tires, read_in, line, HAND, topped_up=days != data.NOCTULE_READ[-1][0]) for line in lines]
            fill(owner, begun, read)
            for wheel in read:
                assert wheel.before is not None
                shows = f"{(wheel.before.value + data.DISPLAY_KPA) / PSI_KPA:.0f} psi"
                note = {"wheel": wheel.wheel, "display": shows, "display_gauge": display.pk}
                entries.note(owner, begun.pk, uuid4(), WheelNoteIn.model_validate(note))
        with at(moment + dt.timedelta(minutes=9)):
            seal(owner, begun.pk, "The stick does not reach so far", owner.person.shown_name)


def _read(
    tires: TireFleet, read_in: core_rounds.Conditions, line: core_rounds.WheelLine, noise_kpa: float, off_kpa: float = 0.0,
    topped_up: bool = True, low: bool = False,
) -> QuickWheelIn:  # fmt: skip
    """What is typed of a wheel by a gauge that shows so much beyond its comparison, twice where air was asked for and is given."""
    code, air, gauge = line.code, read_in.here, read_in.gauge
    # An axle without a target stands at its ceiling's nine tenths.
    here = core_rounds.held(read_in, line).here_kpa or 0.9 * (line.aim.ceiling_kpa or 500.0)
    if code not in tires.true_kpa:
        tires.set(code, here, air)
    if low:
        # Whatever the weather of these weeks was.
        tires.at_most(code, here - LOW_KPA, air)

    def typed(shown_kpa: float) -> str:
        return f"{shown_kpa / PSI_KPA:.{0 if gauge.resolution_kpa > 0.9 * PSI_KPA else 1}f} psi"

    shown = tires.reading(code, air, gauge, noise_kpa) + off_kpa
    given: dict[str, Any] = {"wheel": code, "before": typed(shown)}
    if topped_up and correct(gauge, shown).kpa < core_rounds.add_below(here):
        tires.set(code, here + tires.random.uniform(0, PSI_KPA), air)
        given["after"] = typed(tires.reading(code, air, gauge, noise_kpa) + off_kpa)
    return QuickWheelIn.model_validate(given)


@dataclass
class History:
    """Weekly rounds of a rig, read and topped up as the answers ask, the last on `last`; `skip` are wheels nobody reads.

    The last round leaves the slow one as it was found, so that this morning has something to do.
    """

    actor: Actor
    rig: Rig
    drawer: dict[str, Gauge]
    tires: TireFleet
    last: dt.datetime
    noise_kpa: float
    skip: tuple[str, ...] = ()
    tours: bool = False
    missed: bool = False
    weeks_away: int = 0
    treads: bool = False
    lent: bool = False

    def walk(self, weeks: range) -> None:
        for week in weeks:
            self.weeks_away += 1
            if self.missed and week in MISSED:
                continue
            self._round(week, self.last - dt.timedelta(weeks=WEEKS - 1 - week) + CHECK_HOUR)

    def _round(self, week: int, moment: dt.datetime) -> None:
        place = ON_TOUR.get(week, PLACE) if self.tours else self.rig_place
        with at(moment):
            gauge = self.drawer[self._gauge_of(week)]
            km = VAN_KM + KM_A_WEEK * (week + 1 - (WEEKS - SINCE_WEIGHED)) if self.treads else None
            given = ConditionsIn.model_validate(
                {"gauge": gauge.pk, "standing_h": 12, "place_key": place, "odometer": f"{km} km" if km else None}
            )
            begun = rounds.opened(self.actor, self.rig.pk, given)
            read_in = stored.conditions(begun)
            self.tires.pass_days(7 * self.weeks_away, week)
            self.weeks_away = 0
            lines = [self._line(read_in, line, week) for line in stored.lines(begun) if line.code not in self.skip]
            fill(self.actor, begun, lines)
            if self.treads and week in TREAD_WEEKS:
                self._measure(begun.pk, [line.code for line in stored.lines(begun) if line.axle], week)
        with at(moment + dt.timedelta(minutes=14)):
            seal(self.actor, begun.pk, "Spare under the telescope" if self.skip else "", self.actor.person.shown_name)

    def _gauge_of(self, week: int) -> str:
        if self.tours and week == WRONG_GAUGE:
            return "G2"
        # The first of the drawer is the one they always take.
        usual = next(iter(self.drawer))
        return LENT.get(week, usual) if self.lent else usual

    def _measure(self, round_id: int, codes: list[str], week: int) -> None:
        for code in codes:
            hand = random.Random(f"{code} {week}")
            worn = [9.0 - loses * KM_A_WEEK / 1000 * week for loses in LOSES_MM[code[0]]]
            inner, centre, outer = (f"{mm + hand.uniform(-0.1, 0.1):.1f} mm" for mm in worn)
            tread = {"wheel": code, "tread": {"inner": inner, "centre": centre, "outer": outer}}
            entries.note(self.actor, round_id, uuid4(), WheelNoteIn.model_validate(tread))

    @property
    def rig_place(self) -> str:
        return "ember-lake" if self.rig.name == "Pipistrelle" else PLACE

    def _line(self, read_in: core_rounds.Conditions, line: core_rounds.WheelLine, week: int) -> QuickWheelIn:
        label = self._gauge_of(week)
        left_low = week == WEEKS - 1 and line.code in self.tires.leak_kpa_a_day
        return _read(
            self.tires, read_in, line, self.noise_kpa, OFF_KPA.get(label, 0.0), topped_up=not left_low and label != "G2",
            low=left_low and self.tours,
        )  # fmt: skip


def _histories(
    technician: Actor, maintainer: Actor, fleet: dict[str, Rig], drawer: dict[str, Gauge], today: dt.datetime, shift: int
) -> list[History]:  # fmt: skip
    """Every combination's past: who reads it, what leaks from when on, and how many days ago it was read last."""

    def ago(days: int) -> dt.datetime:
        return today - dt.timedelta(days=days)

    # The coach: a slow leak at one inner dual since ten weeks; its last round is a week old, so one is due this morning.
    coach = TireFleet(51 + shift, {"2Ri": 3.4}, WEEKS - 10)
    # The tractor and its dome: 18 wheels, a slow leak at one of them over fourteen weeks.
    dome = TireFleet(54 + shift, {"T2Li": 1.1}, WEEKS - 14)
    made = [
        History(technician, fleet["CF-01"], drawer, coach, ago(7), HAND, ("TS1",), tours=True, missed=True),
        History(maintainer, fleet["CF-09"], drawer, TireFleet(12 + shift), ago(2), HAND),
        History(technician, fleet["CF-03"], drawer, dome, ago(1), HAND),
    ]
    for seed, number, days in ((15, "CF-05", 3), (16, "CF-06", 4), (17, "CF-08", 9), (18, "CF-10", 5)):
        van, lent = number == "CF-05", number != "CF-06"
        tires = TireFleet(seed + shift)
        made.append(History(technician, fleet[number], drawer, tires, ago(days), HAND, treads=van, lent=lent))
    return made
