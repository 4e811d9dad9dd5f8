"""The world of a try: what a scene says, entered through the services that people use."""

import datetime as dt
from typing import Any
from uuid import uuid4

from ballast.core.practice import GAUGE, AxleScene, Made, Pump, Scene, Shown
from ballast.server.accounts.actors import Actor
from ballast.server.accounts.models import Person, Workspace
from ballast.server.air.now import set_air
from ballast.server.air.schemas import AirKeptIn
from ballast.server.edge import clock
from ballast.server.edge.taken_down import all_on, take_down
from ballast.server.edge.writing import over_workspaces
from ballast.server.gauges.inflators import save as save_inflator
from ballast.server.gauges.models import Gauge, Inflator
from ballast.server.gauges.schemas import CalibrationIn, GaugeIn, InflatorIn
from ballast.server.gauges.services import compare, save_gauge
from ballast.server.ground import kit
from ballast.server.ground import services as ground
from ballast.server.ground.schemas import EntryIn, KitIn, OpenIn, StepIn
from ballast.server.pictures.models import Picture
from ballast.server.pictures.services import unlink_unused
from ballast.server.practice.models import Try
from ballast.server.refine import services as refine
from ballast.server.refine.schemas import KeepChalkPassIn, TrialIn
from ballast.server.rigs.fittings import fit
from ballast.server.rigs.models import Rig
from ballast.server.rigs.schemas import FitIn, RigIn
from ballast.server.rigs.services import save_rig, wheels_of
from ballast.server.rounds.quick import fill
from ballast.server.rounds.schemas import ConditionsIn, QuickWheelIn
from ballast.server.rounds.seal import seal
from ballast.server.rounds.services import opened
from ballast.server.sensors import services as sensors
from ballast.server.sensors.schemas import GlanceIn, SystemIn
from ballast.server.tables.schemas import TableIn
from ballast.server.tables.services import save_table
from ballast.server.targets.schemas import TargetsIn
from ballast.server.targets.services import put_in_force
from ballast.server.weighing.schemas import WeighingIn
from ballast.server.weighing.services import save_weighing

SHEET = "Practice sheet, made up"
_EARLIER = dt.timedelta(days=14)
_SPEED_KMH = 100.0


def build(actor: Actor, scene: Scene, name: str) -> Rig:
    """Builds what a scene is played on, in an empty workspace of practice."""
    labels = sorted({*scene.gauges} | ({GAUGE} if scene.marks or scene.let_out or scene.earlier else set()))
    with clock.ahead(-_EARLIER if scene.earlier else dt.timedelta()):
        gauges = {label: _gauge(actor, label, scene) for label in labels}
        for tire in {a.tire for a in scene.axles}:
            _table(actor, tire)
        rig = _rig(actor, scene, f"Practice: {name}")
        pumps = {label: _pump(actor, label, pump) for label, pump in scene.pumps.items()}
        set_air(actor, rig.pk, _air(scene))
        if any(a.ends_kg or a.total_kg for a in scene.axles):
            _weigh(actor, rig, scene)
        if scene.marks or all(a.placard_kpa for a in scene.axles):
            put_in_force(actor, rig.pk, TargetsIn())
        if scene.earlier:
            kpa, outside_c = scene.earlier
            _read(actor, rig, gauges[GAUGE], dict.fromkeys(scene.stands, kpa), outside_c)
    if scene.earlier:
        set_air(actor, rig.pk, _air(scene))
        _read(actor, rig, gauges[GAUGE], scene.stands, scene.outside_c)
    if scene.marks:
        _chalk(actor, rig, gauges[GAUGE], scene.stands["1L"], list(scene.marks))
    if scene.let_out:
        _let_out(actor, rig, gauges[GAUGE], pumps, scene)
    if scene.sensors:
        sensors.keep_system(actor, rig.pk, SystemIn(kind=scene.sensors, sealed=False))
    for shown in scene.shown:
        _show(actor, rig, shown, scene.outside_c)
    return rig


def _show(actor: Actor, rig: Rig, shown: Shown, outside_c: float) -> None:
    """What the receiver of the scene showed: on the rig's own screens, as anybody reads it off."""
    numbers = [{"wheel": w, "pressure": f"{kpa} kPa", "fresh": shown.fresh} for w, kpa in shown.kpa.items()]
    given = {
        "at": clock.now() - dt.timedelta(minutes=shown.minutes_ago), "source": "display", "numbers": numbers,
        "rolled_min": shown.rolled_min, "stood_h": shown.stood_h, "outside_c": f"{outside_c} °C",
    }  # fmt: skip
    sensors.glance(actor, rig.pk, uuid4(), GlanceIn.model_validate(given))


def _air(scene: Scene) -> AirKeptIn:
    dawn = {"dawn_c": f"{scene.dawn_c} °C"} if scene.dawn_c is not None else {}
    return AirKeptIn.model_validate(
        {"outside_c": f"{scene.outside_c} °C", "elevation_m": "0 m", "offset_min": 0} | dawn
    )


def _gauge(actor: Actor, label: str, scene: Scene) -> Gauge:
    given = {
        "label": label,
        "kind": "digital",
        "low_kpa": 0,
        "high_kpa": "1100 kPa",
        "resolution_kpa": "0.1 psi",
        "dual_foot": True,
    }
    made = save_gauge(actor, GaugeIn.model_validate(given))
    if label in scene.compared:
        over = scene.gauges.get(label, 0.0)
        pairs = [{"reference": p, "reading": p + over, "direction": "up"} for p in (100, 300, 500, 700, 900)]
        compared = {
            "compared_on": clock.today() - dt.timedelta(days=30),
            "reference": "A standard, made up",
            "master_u_kpa": 0.5,
            "pairs": pairs,
        }
        made = compare(actor, made.pk, CalibrationIn.model_validate(compared))
    return made


def _table(actor: Actor, tire: Made) -> None:
    rows = tire.table()
    given = {
        "size": tire.marking, "pressure_unit": "kPa", "mass_unit": "kg", "source": SHEET, "steps": [p for p, _, _ in rows],
        "single": [round(kg) for _, kg, _ in rows], "dual": [round(kg) for _, _, kg in rows],
    }  # fmt: skip
    save_table(actor, TableIn.model_validate(given))


def _tire(tire: Made) -> dict[str, Any]:
    return {
        "tire_size": tire.marking,
        "sidewall_max_kpa": f"{tire.max_kpa} kPa",
        "wheel_max_kpa": f"{tire.max_kpa + 100} kPa",
    }


def _axle(axle: AxleScene, place: int) -> dict[str, Any]:
    most = 2 * axle.tire.single_kg if not axle.dual else 4 * axle.tire.dual_kg
    placard = {"placard_kpa": f"{axle.placard_kpa} kPa"} if axle.placard_kpa else {}
    return _tire(axle.tire) | placard | {
        "position_m": f"{3.6 * place} m", "track_m": "1.8 m", "dual": axle.dual, "gawr_kg": f"{most:.0f} kg",
    }  # fmt: skip


def _rig(actor: Actor, scene: Scene, name: str) -> Rig:
    axles = [_axle(a, n) for n, a in enumerate(scene.axles)]
    spares = [_tire(scene.axles[0].tire) | {"required_kpa": f"{scene.spare_kpa} kPa"}] if scene.spare_kpa else []
    given = {"kind": scene.kind, "name": name, "axles": axles, "spares": spares, "note": "Made up, to practise on."}
    rig = save_rig(actor, RigIn.model_validate(given))
    on = clock.today()
    for wheel in wheels_of(rig):
        fit(actor, rig, FitIn.model_validate({"wheel": wheel.code, "new": {}, "fitted_on": on, "tread": "9 mm"}))
    return rig


def _weigh(actor: Actor, rig: Rig, scene: Scene) -> None:
    axles = [
        {"left_kg": f"{a.ends_kg[0]} kg", "right_kg": f"{a.ends_kg[1]} kg"}
        if a.ends_kg
        else {"whole_kg": f"{a.total_kg} kg"}
        for a in scene.axles
    ]
    ticket = {
        "load_state": "trip-ready",
        "weighed_on": clock.today(),
        "scale": "A scale, made up",
        "made_up": True,
        "axles": axles,
    }
    save_weighing(actor, rig.pk, WeighingIn.model_validate(ticket))


def _pump(actor: Actor, label: str, pump: Pump) -> Inflator:
    given: dict[str, Any] = {
        "label": label,
        "max_kpa": f"{pump.max_kpa} kPa",
        "free_l_min": 40,
        "on_min": 15,
        "rest_min": 15,
    }
    if pump.draws_a is not None:
        given["draws_a"] = pump.draws_a
    given |= {"supply": "clamps"} if pump.socket_a is None else {"supply": "socket", "socket_a": pump.socket_a}
    return save_inflator(actor, InflatorIn.model_validate(given))


def _read(actor: Actor, rig: Rig, gauge: Gauge, stands: Any, outside_c: float) -> None:
    given = {"gauge": gauge.pk, "standing_h": 12, "outside_c": f"{outside_c} °C", "elevation_m": "0 m"}
    row = opened(actor, rig.pk, ConditionsIn.model_validate(given))
    fill(actor, row, [QuickWheelIn.model_validate({"wheel": w, "before": f"{kpa} kPa"}) for w, kpa in stands.items()])
    seal(actor, row.pk, "", actor.person.shown_name)


def _chalk(actor: Actor, rig: Rig, gauge: Gauge, kpa: float, marks: list[str]) -> None:
    begun = refine.begin(actor, rig.pk, TrialIn(number=1, gauge=gauge.pk)).trials[0]
    given = {"uuid": uuid4(), "pressure": f"{kpa} kPa", "left": marks, "right": marks}
    refine.keep(actor, begun.id, KeepChalkPassIn.model_validate(given))


def _let_out(actor: Actor, rig: Rig, gauge: Gauge, pumps: dict[str, Inflator], scene: Scene) -> None:
    aboard = [{"kind": "gauge", "gauge": gauge.pk}, *({"kind": "inflator", "inflator": p.pk} for p in pumps.values())]
    kit.keep(actor, rig.pk, KitIn.model_validate({"items": aboard}))
    chain = {"uuid": uuid4(), "chain": ["soft"], "place": "A beach, made up", "gauge": gauge.pk}
    plan = ground.open_plan(actor, rig.pk, OpenIn.model_validate(chain)).open
    assert plan is not None
    ground.step(actor, plan.uuid, StepIn(step=0))
    for wheel, kpa in scene.stands.items():
        entry = {"wheel": wheel, "step": 0, "pressure": f"{kpa} kPa", "standing_h": 12, "gauge": gauge.pk}
        ground.enter(actor, plan.uuid, uuid4(), EntryIn.model_validate(entry))


@over_workspaces()
def clear(person: Person) -> None:
    """Takes every world of somebody's practice down, row by row: nothing of it stays, its history neither.

    Followed from the workspace over everything that refers to it, whatever may be deleted in real ones.
    """
    worlds = set(Workspace.objects.filter(practice_of=person).values_list("pk", flat=True))
    if not worlds:
        return
    Try.objects.filter(workspace__in=worlds).update(workspace=None)
    gone = all_on(Workspace, worlds)
    unlink_unused(set(Picture.objects.filter(pk__in=gone.get(Picture, ())).values_list("content", flat=True)))
    take_down(gone)
