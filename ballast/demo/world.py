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
from ballast.demo.clock import at
from ballast.demo.tires import TireFleet
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Membership, Person, Workspace
from ballast.server.air.schemas import AirIn
from ballast.server.air.services import set_air
from ballast.server.gauges.models import Gauge
from ballast.server.gauges.schemas import CalibrationIn, GaugeIn
from ballast.server.gauges.services import compare, gauge_of, save_gauge
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import RigIn
from ballast.server.rigs.services import save_rig
from ballast.server.rounds import services as rounds
from ballast.server.rounds.schemas import ConditionsIn, ReadingIn
from ballast.server.tables.services import take_sample
from ballast.server.targets.schemas import TargetsIn
from ballast.server.targets.services import put_in_force
from ballast.server.weighing.schemas import WeighingIn
from ballast.server.weighing.services import save_weighing

PEOPLE = (
    ("fleet-maintainer", "Fleet maintainer", "Copperfinch Sky Caravan", Membership.Role.MANAGER, "us"),
    ("technician", "Technician", "Copperfinch Sky Caravan", Membership.Role.TECHNICIAN, "us"),
    ("auditor", "Auditor", "Copperfinch Sky Caravan", Membership.Role.VIEWER, "metric"),
    ("rv-owner", "RV owner", "Thistledown Weekenders", Membership.Role.MANAGER, "us"),
)
PLACE = "tarn-hollow"
WEEKS = 10
# An hour after dawn at the made-up places, in UTC.
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
        for key in ("drover-245-70r19.5", "wisp-120-70r17", "wisp-150-80b16"):
            take_sample(maintainer, key)
        coach = save_rig(maintainer, RigIn.model_validate(COACH))
        bike = save_rig(maintainer, RigIn.model_validate(MOTORCYCLE))
        for rig in (coach, bike):
            set_air(maintainer, rig.pk, AirIn(place_key=PLACE))
        save_weighing(
            maintainer,
            coach.pk,
            WeighingIn.model_validate(
                {
                    "load_state": "trip-ready",
                    "weighed_on": start.date().isoformat(),
                    "scale": "Tarn Hollow wheel pads",
                    "resolution_kg": "10 kg",
                    "note": "Tanks two thirds, crew of three, instrument rack aboard",
                    "axles": [
                        {"left_kg": "1690 kg", "right_kg": "1700 kg"},
                        {"left_kg": "3160 kg", "right_kg": "3410 kg"},
                    ],
                }
            ),
        )
        save_weighing(
            maintainer,
            bike.pk,
            WeighingIn.model_validate(
                {
                    "load_state": "trip-ready",
                    "weighed_on": start.date().isoformat(),
                    "scale": "Tarn Hollow wheel pads",
                    "resolution_kg": "1 kg",
                    "note": "Rider and both bags",
                    "axles": [{"whole_kg": "168 kg"}, {"whole_kg": "236 kg"}],
                }
            ),
        )
        for rig in (coach, bike):
            put_in_force(maintainer, rig.pk, TargetsIn())
    # The coach: a slow leak at one inner dual; its last round is a week old, so one is due this morning.
    tires = TireFleet(11, {"2Ri": 0.016, "S1": 0.02}, {"2Ri": 3.4})
    _history(technician, coach, g1, tires, today - dt.timedelta(days=7), 0.9)
    tires = TireFleet(12, {"1": 0.03, "2": 0.02})
    _history(maintainer, bike, g1, tires, today - dt.timedelta(days=2), 0.9)


def _thistledown(owner: Actor, start: dt.datetime, today: dt.datetime) -> None:
    with at(start):
        gauge = _gauge(owner, "Camper gauge", "digital", "700 kPa", "0.5 psi")
        take_sample(owner, "carrier-st205-75r15")
        camper = save_rig(owner, RigIn.model_validate(CAMPER))
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
                    "axles": [{"left_kg": "690 kg", "right_kg": "720 kg"}],
                }
            ),
        )
        put_in_force(owner, camper.pk, TargetsIn())
    _history(owner, camper, gauge, TireFleet(13, {"1R": 0.02}), today - dt.timedelta(days=5), 1.2, weeks=4)


def _history(
    actor: Actor, rig: Rig, gauge: Gauge, tires: TireFleet, last: dt.datetime, noise_kpa: float, weeks: int = WEEKS
) -> None:
    """Weekly rounds, read and topped up as the answers ask, the last on `last`."""
    for week in range(weeks):
        moment = last - dt.timedelta(weeks=weeks - 1 - week) + CHECK_HOUR
        with at(moment):
            begun = rounds.begin(actor, rig.pk, ConditionsIn(gauge=gauge.pk, standing_h=12, place_key=PLACE))
            air = Air(begun.outside_c, begun.elevation_m)
            view = rounds.present(begun)
            if week:
                tires.pass_days(7)
            for wheel in view["wheels"]:
                if not week:
                    tires.set(wheel["code"], wheel["here_kpa"], air)
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
            rounds.seal(actor, begun.pk, "")


def _read(actor: Actor, round_id: int, rig: Rig, wheel: str, week: int, kpa: float, after: bool = False) -> None:
    key = uuid.uuid5(NAMESPACE, f"{rig.pk}:{week}:{wheel}:{after}")
    typed = f"{kpa / PSI_KPA:.1f} psi"
    rounds.read(actor, round_id, key, ReadingIn.model_validate({"wheel": wheel, "after": after, "pressure": typed}))


_DROVER = {
    "tire_size": "245/70R19.5 135/133M", "tire_make": "Pellwick Drover", "load_range": "H", "sidewall_max_kpa": "760 kPa",
    "wheel_max_kpa": "830 kPa",
}  # fmt: skip
COACH: dict[str, Any] = {
    "kind": "coach",
    "name": "Almagest",
    "fleet_number": "CF-01",
    "gvwr_kg": "11800 kg",
    "wheelbase_m": "6.1 m",
    "note": "Observatory coach. The instrument rack rides over the right rear.",
    "axles": [
        {**_DROVER, "position_m": 0, "track_m": "2.08 m", "gawr_kg": "4200 kg", "placard_kpa": "85 psi"},
        {
            **_DROVER,
            "position_m": "6.1 m",
            "track_m": "1.85 m",
            "dual": True,
            "gawr_kg": "7600 kg",
            "placard_kpa": "93 psi",
        },
    ],
    "spares": [{**_DROVER, "required_kpa": "100 psi"}],
}
MOTORCYCLE: dict[str, Any] = {
    "kind": "motorcycle",
    "name": "Parsec",
    "fleet_number": "CF-09",
    "gvwr_kg": "430 kg",
    "wheelbase_m": "1.52 m",
    "note": "Rides ahead.",
    "axles": [
        {
            "tire_size": "120/70R17 58W", "tire_make": "Larkin Wisp", "sidewall_max_kpa": "290 kPa", "position_m": 0,
            "track_m": "0.2 m", "wheels": 1, "gawr_kg": "180 kg", "placard_kpa": "33 psi",
        },
        {
            "tire_size": "150/80B16 71H", "tire_make": "Larkin Wisp", "sidewall_max_kpa": "290 kPa",
            "position_m": "1.52 m", "track_m": "0.2 m", "wheels": 1, "gawr_kg": "270 kg", "placard_kpa": "38 psi",
        },
    ],
}  # fmt: skip
_CARRIER = {
    "tire_size": "ST205/75R15 107/102M D", "tire_make": "Tarnside Carrier", "sidewall_max_kpa": "450 kPa",
}  # fmt: skip
CAMPER: dict[str, Any] = {
    "kind": "camper",
    "name": "Pipistrelle",
    "gvwr_kg": "1600 kg",
    "note": "Weekends only.",
    "axles": [{**_CARRIER, "position_m": 0, "track_m": "1.9 m", "gawr_kg": "1500 kg", "placard_kpa": "430 kPa"}],
    "spares": [{**_CARRIER, "required_kpa": "450 kPa"}],
}
