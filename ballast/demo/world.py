"""The demo world: Copperfinch Sky Caravan and Thistledown Weekenders. All of it is made up.

Everything is entered through the services that people use, at the time at which it happened.
"""

import datetime as dt
import uuid
from typing import Any

from django.db import transaction
from django.utils import timezone

from ballast.core.gas import Air
from ballast.core.units import PSI_KPA
from ballast.demo import rigs as data
from ballast.demo.clock import at
from ballast.demo.tires import TireFleet
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership, Person, Workspace
from ballast.server.air import trips
from ballast.server.air.schemas import AirIn, TripIn
from ballast.server.air.services import set_air
from ballast.server.gauges.models import Gauge
from ballast.server.gauges.schemas import CalibrationIn, GaugeIn
from ballast.server.gauges.services import compare, gauge_of, save_gauge
from ballast.server.rigs.combinations import hitch
from ballast.server.rigs.fittings import fit, move
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import FitIn, MoveIn, RigIn
from ballast.server.rigs.services import save_rig, wheels_of
from ballast.server.rounds import services as rounds
from ballast.server.rounds.schemas import ConditionsIn, ReadingIn
from ballast.server.tables.samples import SAMPLES
from ballast.server.tables.services import take_sample
from ballast.server.targets import chalk
from ballast.server.targets.schemas import ChalkIn, TargetsIn
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
WEEKS = 10
# An hour after dawn at the made-up places, in UTC.
MONTH = 30.44
CHECK_HOUR = dt.timedelta(hours=14)
NAMESPACE = uuid.UUID("6f1d9a52-6a0b-4e7e-9f57-0c9a5be3b1d1")


def built() -> bool:
    return Workspace.objects.filter(name=PEOPLE[0][2]).exists()


@transaction.atomic
def build() -> None:
    """Builds both workspaces, ending today."""
    today = timezone.now().replace(hour=0, minute=0, second=0, microsecond=0)
    start = today - dt.timedelta(weeks=WEEKS, days=3) + CHECK_HOUR
    with at(start):
        actors = _people()
    maintainer, technician, owner = actors["fleet-maintainer"], actors["technician"], actors["rv-owner"]
    _copperfinch(maintainer, technician, start, today)
    _thistledown(owner, start, today)


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
    actor: Actor, gauge: Gauge, on: dt.date, reference: str, pairs: list[tuple[float, float]], u: float
) -> None:
    compare(
        actor,
        gauge.pk,
        CalibrationIn.model_validate(
            {
                "compared_on": on.isoformat(),
                "reference": reference,
                "master_u_kpa": u,
                "pairs": [{"reference": a, "reading": b} for a, b in pairs],
            }
        ),
    )


def _copperfinch(maintainer: Actor, technician: Actor, start: dt.datetime, today: dt.datetime) -> None:
    with at(start - dt.timedelta(days=MONTH * 16)):
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
            _fit_tires(technician, number, rig)
    with at(start):
        master = _gauge(maintainer, "M1", "master", "1400 kPa", "0.1 kPa", dual_foot=True)
        g1 = _gauge(maintainer, "G1", "digital", "1100 kPa", "0.1 psi", dual_foot=True)
        _gauge(maintainer, "G2", "dial", "1100 kPa", "2 psi", dropped=True)
        g3 = _gauge(maintainer, "G3", "stick", "1100 kPa", "1 psi")
        spring = today.date() - dt.timedelta(days=190)
        _compare(maintainer, master, spring, "Certificate 118", [(200, 200), (600, 600.2), (1000, 1000.3)], 0.5)
        _compare(
            maintainer, g1, spring, "M1",
            [(100, 100.7), (200, 201.2), (400, 402.6), (600, 604), (600, 604.2), (800, 805.4), (1000, 1007)], 0.6,
        )  # fmt: skip
        _compare(maintainer, g3, spring - dt.timedelta(days=250), "M1", [(300, 305), (600, 611), (800, 812)], 1.0)
        for key in SAMPLES:
            if key != "carrier-st205-75r15":
                take_sample(maintainer, key)
        for rig in fleet.values():
            set_air(maintainer, rig.pk, AirIn(place_key=PLACE))
    for number, tickets in data.WEIGHED.items():
        for ticket in tickets:
            _weigh(technician, fleet[number], ticket, start)
    with at(start):
        for rig in fleet.values():
            put_in_force(maintainer, rig.pk, TargetsIn())
        save_worked_out(
            maintainer,
            fleet["CF-01"].pk,
            SaveWhatIfIn.model_validate(
                {
                    "load_state": "guest night",
                    "bars": "slack",
                    "placed": [
                        {
                            "what": "people",
                            "label": "Six guests",
                            "mass": "480 kg",
                            "rig": fleet["CF-01"].pk,
                            "x": 3.2,
                            "y": 0,
                        },
                        {
                            "what": "water",
                            "label": "Tank filled",
                            "liters": "120 L",
                            "rig": fleet["CF-01"].pk,
                            "x": 5.4,
                            "y": -0.5,
                        },
                    ],
                }
            ),
        )
        _move_tires(technician, fleet["CF-05"], start)
        # The chalk trial of the pickup, and the coach's next tour.
        chalk.add(
            maintainer,
            fleet["CF-06"].pk,
            ChalkIn.model_validate(
                {
                    "number": 1,
                    "pressure": "42 psi",
                    "done_on": start.date().isoformat(),
                    "note": "A faint edge at both shoulders",
                }
            ),
        )
        trips.keep(technician, fleet["CF-01"].pk, TripIn.model_validate({"legs": data.TOUR}))
    # The coach: a slow leak at one inner dual; its last round is a week old, so one is due this morning.
    tires = TireFleet(11, {"2Ri": 0.016, "S1": 0.02, "TS1": 0.03}, {"2Ri": 3.4})
    _history(technician, fleet["CF-01"], g1, tires, today - dt.timedelta(days=7), 0.9, skip=("TS1",))
    tires = TireFleet(12, {"1": 0.03, "2": 0.02})
    _history(maintainer, fleet["CF-09"], g1, tires, today - dt.timedelta(days=2), 0.9)
    # The tractor and its dome: 18 wheels, a slow leak at one of them.
    tires = TireFleet(14, {}, {"T2Li": 1.1})
    _history(technician, fleet["CF-03"], g1, tires, today - dt.timedelta(days=1), 0.9, weeks=4)
    for seed, number, days in ((15, "CF-05", 3), (16, "CF-06", 4), (17, "CF-08", 9), (18, "CF-10", 5)):
        _history(technician, fleet[number], g1, TireFleet(seed, {}), today - dt.timedelta(days=days), 0.9, weeks=2)


def _date_code(today: dt.date, years: float) -> str:
    made = (today - dt.timedelta(days=years * 365.25)).isocalendar()
    return f"{made.week:02d}{made.year % 100:02d}"


def _fit_tires(actor: Actor, number: str, rig: Rig) -> None:
    """Every wheel gets its tire, with the date code it would have today."""
    today = timezone.now().date() + dt.timedelta(days=MONTH * 16 + WEEKS * 7)
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
    move(actor, van, MoveIn.model_validate({"moves": moves, "moved_on": on.date(), "odometer": "98060 km"}))


def _weigh(actor: Actor, rig: Rig, ticket: dict[str, Any], start: dt.datetime) -> None:
    body = {"load_state": "trip-ready", **ticket}
    months, guided = body.pop("months", 0), body.pop("guided", None)
    day = start + dt.timedelta(days=WEEKS * 7 - MONTH * months) if months else start
    if guided:
        steps = guide(actor, GuideIn(rig=rig.pk, way=body["way"], with_trailers=body.get("with_trailers", False)))
        body["passes"] = [
            {"words": s["words"], "on": s["on"], "apart": s["apart"], "kg": f"{kg} kg"}
            for s, kg in zip(steps, guided, strict=True)
        ]
    with at(day):
        save_weighing(actor, rig.pk, WeighingIn.model_validate(body | {"weighed_on": day.date().isoformat()}))


def _thistledown(owner: Actor, start: dt.datetime, today: dt.datetime) -> None:
    with at(start):
        gauge = _gauge(owner, "Camper gauge", "digital", "700 kPa", "0.5 psi")
        take_sample(owner, "carrier-st205-75r15")
        camper = save_rig(owner, RigIn.model_validate(data.CAMPER))
        set_air(owner, camper.pk, AirIn(place_key="ember-lake"))
        save_weighing(
            owner,
            camper.pk,
            WeighingIn.model_validate(
                {
                    "load_state": "trip-ready",
                    "weighed_on": start.date().isoformat(),
                    "scale": "Ember Lake grain scale",
                    "resolution_kg": "10 kg",
                    "bars": "slack",
                    "hitch_kg": "95 kg",
                    "axles": [{"left_kg": "690 kg", "right_kg": "720 kg"}],
                }
            ),
        )
        put_in_force(owner, camper.pk, TargetsIn())
    _history(owner, camper, gauge, TireFleet(13, {"1R": 0.02}), today - dt.timedelta(days=5), 1.2, weeks=4)


def _history(
    actor: Actor,
    rig: Rig,
    gauge: Gauge,
    tires: TireFleet,
    last: dt.datetime,
    noise_kpa: float,
    weeks: int = WEEKS,
    skip: tuple[str, ...] = (),
) -> None:
    """Weekly rounds, read and topped up as the answers ask, the last on `last`; `skip` are wheels that nobody reads."""
    for week in range(weeks):
        moment = last - dt.timedelta(weeks=weeks - 1 - week) + CHECK_HOUR
        with at(moment):
            begun = rounds.begin(actor, rig.pk, ConditionsIn(gauge=gauge.pk, standing_h=12, place_key=PLACE))
            air = Air(begun.outside_c, begun.elevation_m)
            view = rounds.present(begun)
            if week:
                tires.pass_days(7)
            for wheel in view["wheels"]:
                if wheel["code"] in skip:
                    continue
                if not week:
                    # An axle without a target stands at its ceiling's nine tenths.
                    tires.set(wheel["code"], wheel["here_kpa"] or 0.9 * (wheel["ceiling_kpa"] or 500.0), air)
                _read(
                    actor,
                    begun.pk,
                    rig,
                    wheel["code"],
                    week,
                    tires.reading(wheel["code"], air, gauge_of(gauge), noise_kpa),
                )
            view = rounds.present(rounds.round_(actor, begun.pk))
            final = week == weeks - 1
            for wheel in view["wheels"]:
                # The last round leaves the slow one as it was found, so that this morning has something to do.
                if wheel["answer"].word == "add" and not (final and wheel["code"] in tires.leak_kpa_a_day):
                    tires.set(wheel["code"], wheel["here_kpa"] + tires.random.uniform(0, PSI_KPA), air)
                    shown = tires.reading(wheel["code"], air, gauge_of(gauge), noise_kpa)
                    _read(actor, begun.pk, rig, wheel["code"], week, shown, after=True)
        with at(moment + dt.timedelta(minutes=14)):
            rounds.seal(actor, begun.pk, "Spare under the telescope" if skip else "")


def _read(actor: Actor, round_id: int, rig: Rig, wheel: str, week: int, kpa: float, after: bool = False) -> None:
    key = uuid.uuid5(NAMESPACE, f"{rig.pk}:{week}:{wheel}:{after}")
    typed = f"{kpa / PSI_KPA:.1f} psi"
    rounds.store(actor, round_id, key, ReadingIn.model_validate({"wheel": wheel, "after": after, "pressure": typed}))
