"""Who may do what: every operation of the OpenAPI document, so that a new one cannot be forgotten."""

import base64
import datetime as dt
import json
from collections.abc import Callable
from typing import Any
from uuid import UUID, uuid4

import pytest
from django.test import Client
from django.utils import timezone

from ballast.server.accounts.models import ApiKey, Link, Person
from ballast.server.api import api as ninja
from ballast.server.assignments.models import Assignment, Crew
from ballast.server.gauges.models import Deflators, Gauge, Inflator
from ballast.server.ground.models import GroundPlan
from ballast.server.pictures.models import Picture
from ballast.server.refine.models import ChalkTrial, Rotation, TireEvent
from ballast.server.rigs.models import Rig, Tire
from ballast.server.sensors.models import Receiver
from ballast.server.targets.models import ChalkResult
from ballast.server.weather.models import Record
from ballast.server.weighing.models import LoadState
from tests.server.conftest import COACH, COMPARISON, GAUGE, TABLE, TICKET, Api, Fleet, furnish
from tests.server.test_gauges import INFLATOR

ANYBODY, VIEWER, TECHNICIAN, MANAGER = range(4)
RANK = {"viewer": VIEWER, "technician": TECHNICIAN, "manager": MANAGER}

# The least role that may call each operation. Written down here apart from the code that enforces it.
LEAST = {
    "GET session": ANYBODY,
    "POST session": ANYBODY,
    "POST session/demo": ANYBODY,
    "POST first-run": ANYBODY,
    "DELETE session": VIEWER,
    "PUT session/units": VIEWER,
    "PUT session/workspace": VIEWER,
    "POST workspaces": MANAGER,
    "GET archive": MANAGER,
    "GET archive/holds": MANAGER,
    "POST archive": MANAGER,
    "PUT session/password": VIEWER,
    "GET session/factor": VIEWER,
    "POST session/factor": VIEWER,
    "PUT session/factor": VIEWER,
    "POST session/factor/codes": VIEWER,
    "POST session/factor/off": VIEWER,
    "POST session/join": VIEWER,
    "GET sessions": VIEWER,
    "DELETE sessions": VIEWER,
    "DELETE sessions/{session_id}": VIEWER,
    "GET keys": VIEWER,
    "POST keys": VIEWER,
    "DELETE keys/{key_id}": VIEWER,
    "GET links": MANAGER,
    "POST links": MANAGER,
    "DELETE links/{link_id}": MANAGER,
    # With the key of a link, not a session.
    "POST join": ANYBODY,
    "POST join/asked": ANYBODY,
    "POST join/password": ANYBODY,
    "GET practice": VIEWER,
    "DELETE practice": VIEWER,
    "GET practice/people": MANAGER,
    "POST practice/leave": VIEWER,
    "POST practice/tries": VIEWER,
    "GET practice/try": VIEWER,
    "POST practice/try/hint": VIEWER,
    "POST practice/try/judge": VIEWER,
    "POST practice/try/look": VIEWER,
    "POST practice/try/night": VIEWER,
    "GET people": VIEWER,
    "GET people/page": VIEWER,
    "GET people.csv": VIEWER,
    "POST people": MANAGER,
    "PUT people/{member_id}": MANAGER,
    "PUT people/{member_id}/off": MANAGER,
    "POST people/{member_id}/reset": MANAGER,
    "DELETE people/{member_id}": MANAGER,
    "PUT settings": MANAGER,
    "GET rigs": VIEWER,
    "POST rigs": MANAGER,
    "GET rigs/{rig_id}": VIEWER,
    "PUT rigs/{rig_id}": MANAGER,
    "DELETE rigs/{rig_id}": MANAGER,
    "POST rigs/{rig_id}/restore": MANAGER,
    "GET rigs/{rig_id}/history": VIEWER,
    "GET rigs/import.csv": VIEWER,
    "POST rigs/import": MANAGER,
    "PUT fleets/{uuid}": MANAGER,
    "PUT fleets/{uuid}/slices/{number}": MANAGER,
    "PUT fleets/{uuid}/steps/{number}": MANAGER,
    "POST fleets/{uuid}/finish": MANAGER,
    "DELETE fleets/{uuid}": MANAGER,
    "GET finder": VIEWER,
    "GET rigs/{rig_id}/hitch": VIEWER,
    "PUT rigs/{rig_id}/hitch": TECHNICIAN,
    "GET rigs/{rig_id}/tires": VIEWER,
    "POST rigs/{rig_id}/fittings": TECHNICIAN,
    "POST rigs/{rig_id}/moves": TECHNICIAN,
    "POST rigs/{rig_id}/torques": TECHNICIAN,
    "PUT rigs/{rig_id}/odometer": TECHNICIAN,
    "PUT rigs/{rig_id}/laid-up": MANAGER,
    "DELETE rigs/{rig_id}/laid-up": MANAGER,
    "PUT rigs/{rig_id}/out-of-service": TECHNICIAN,
    "POST rigs/{rig_id}/sign-off": MANAGER,
    "GET rigs/{rig_id}/sign-offs": VIEWER,
    "GET tags": VIEWER,
    "POST tags": MANAGER,
    "POST archived": MANAGER,
    "POST check-days": MANAGER,
    "POST work/targets/many": MANAGER,
    "POST targets/many": MANAGER,
    "POST targets/withdrawn": MANAGER,
    "GET yard/rigs.csv": VIEWER,
    "GET yard/cards.pdf": VIEWER,
    "GET yard/sheets.pdf": VIEWER,
    "GET views": VIEWER,
    "POST views": VIEWER,
    "DELETE views/{view_id}": VIEWER,
    "GET day": VIEWER,
    "GET yard/all": VIEWER,
    "GET people/{member_id}/deeds": MANAGER,
    "GET schedule": VIEWER,
    "GET report": VIEWER,
    "GET report.csv": VIEWER,
    "GET report.pdf": VIEWER,
    "GET feeds": VIEWER,
    "POST feeds": VIEWER,
    "DELETE feeds/{feed_id}": VIEWER,
    # A calendar signs in nowhere: the address is the key.
    "GET calendar/{key}.ics": ANYBODY,
    "GET notice": VIEWER,
    "PUT notice": VIEWER,
    "GET checks": VIEWER,
    "GET checks.csv": VIEWER,
    "GET gauges-by-rounds": VIEWER,
    "GET day/everybody": VIEWER,
    "GET rigs/{rig_id}/assigned": VIEWER,
    "POST work/assignments": MANAGER,
    "POST assignments": MANAGER,
    "DELETE assignments/batches/{uuid}": MANAGER,
    "PUT assignments/{assignment_id}": TECHNICIAN,
    "DELETE assignments/{assignment_id}": MANAGER,
    "GET crews": VIEWER,
    "POST crews": MANAGER,
    "PUT crews/{crew_id}": MANAGER,
    "DELETE crews/{crew_id}": MANAGER,
    "GET rigs/{rig_id}/pictures": VIEWER,
    "PUT rigs/{rig_id}/pictures/{uuid}": TECHNICIAN,
    "GET pictures/{uuid}/file": VIEWER,
    "DELETE pictures/{uuid}": TECHNICIAN,
    "POST pictures/{uuid}/restore": TECHNICIAN,
    "GET tires": VIEWER,
    "GET tires.csv": VIEWER,
    "GET tires/{tire_id}": VIEWER,
    "PUT tires/{tire_id}/marks": TECHNICIAN,
    "POST tires/{tire_id}/events": TECHNICIAN,
    "DELETE tires/{tire_id}/events/{uuid}": TECHNICIAN,
    "POST rigs/{rig_id}/fittings/described": TECHNICIAN,
    "GET rigs/{rig_id}/wear": VIEWER,
    "POST work/refine/rotation": VIEWER,
    "POST rotations/{rotation_id}/learned": TECHNICIAN,
    "POST tires/{tire_id}/remove": TECHNICIAN,
    "POST tires/{tire_id}/restore": TECHNICIAN,
    "GET scales": VIEWER,
    "POST rigs/{rig_id}/worked-out": TECHNICIAN,
    "GET rigs/{rig_id}/drift": VIEWER,
    "GET rigs/{rig_id}/weighings/{weighing_id}/ticket.json": VIEWER,
    "GET rigs/{rig_id}/weighings/{weighing_id}/ticket.csv": VIEWER,
    "GET rigs/{rig_id}/load-states": VIEWER,
    "POST rigs/{rig_id}/load-states": TECHNICIAN,
    "POST rigs/{rig_id}/load-states/{state_id}/use": TECHNICIAN,
    "DELETE rigs/{rig_id}/load-states/{state_id}": TECHNICIAN,
    "POST work/rigs/size": VIEWER,
    "POST work/rigs/import": MANAGER,
    "POST work/weighing/guide": VIEWER,
    "POST work/weighing/what-if": VIEWER,
    "POST work/weighing/ticket": TECHNICIAN,
    "POST work/weighing/scale": TECHNICIAN,
    "POST work/weighing/scale-ticket": TECHNICIAN,
    "POST work/targets/what-if": VIEWER,
    "GET weather/places": VIEWER,
    "GET weather/places/{key}": VIEWER,
    "GET weather/records/blank.csv": VIEWER,
    "POST weather/records": TECHNICIAN,
    "DELETE weather/records/{record_id}": TECHNICIAN,
    "GET tables/export.json": VIEWER,
    "GET tables/export.csv": VIEWER,
    "GET tables/blank.csv": VIEWER,
    "POST tables/import": MANAGER,
    "PUT tables/{table_id}/check": MANAGER,
    "POST work/tables/paste": VIEWER,
    "POST work/tables/import": MANAGER,
    "POST work/targets/edition": VIEWER,
    "GET rigs/{rig_id}/policy": VIEWER,
    "PUT rigs/{rig_id}/placard-row": MANAGER,
    "PUT rigs/{rig_id}/policy": MANAGER,
    "GET rigs/{rig_id}/chalk": VIEWER,
    "PUT rigs/{rig_id}/chalk/{result_id}": MANAGER,
    "GET rigs/{rig_id}/trip": VIEWER,
    "PUT rigs/{rig_id}/trip": TECHNICIAN,
    "GET trip-blank.csv": VIEWER,
    "GET rigs/{rig_id}/card": VIEWER,
    "GET rigs/{rig_id}/card.pdf": VIEWER,
    "POST work/air/elsewhere": VIEWER,
    "POST work/air/warm": VIEWER,
    "POST work/air/readings": VIEWER,
    "POST work/air/forecast": VIEWER,
    "POST work/air/trip": VIEWER,
    "POST work/air/trip-file": VIEWER,
    "GET gauges": VIEWER,
    "GET gauges/drawer": VIEWER,
    "GET gauges/drawer.csv": VIEWER,
    "GET morning/dawns": VIEWER,
    "POST gauges": TECHNICIAN,
    "PUT gauges/{gauge_id}": TECHNICIAN,
    "POST gauges/{gauge_id}/calibrations": TECHNICIAN,
    "GET gauges/{gauge_id}": VIEWER,
    "GET gauges/comparisons.csv": VIEWER,
    "GET gauges/{gauge_id}/use": VIEWER,
    "GET gauges/devices": VIEWER,
    "GET gauges/beside": VIEWER,
    "POST gauges/beside": TECHNICIAN,
    "PUT gauges/{gauge_id}/suspicion": TECHNICIAN,
    "POST gauges/{gauge_id}/bench": TECHNICIAN,
    "GET inflators": VIEWER,
    "POST inflators": TECHNICIAN,
    "PUT inflators/{inflator_id}": TECHNICIAN,
    "POST work/gauges": VIEWER,
    "POST work/gauges/beside": VIEWER,
    "POST work/gauges/job": VIEWER,
    "POST rigs/{rig_id}/rounds/quick": TECHNICIAN,
    "PUT rigs/{rig_id}/walk": TECHNICIAN,
    "GET rigs/{rig_id}/walk": VIEWER,
    "GET rigs/{rig_id}/equipment": VIEWER,
    "GET rigs/{rig_id}/rounds/blank.pdf": VIEWER,
    "GET rounds/{round_id}/offline": VIEWER,
    "GET rounds/{round_id}/sealed": VIEWER,
    "GET rounds/{round_id}/round.pdf": VIEWER,
    "GET rounds/{round_id}/round.csv": VIEWER,
    "PUT rounds/{round_id}/notes/{uuid}": TECHNICIAN,
    "PUT rounds/{round_id}/take": TECHNICIAN,
    "POST rounds/{round_id}/radio": TECHNICIAN,
    "POST rounds/{round_id}/back": TECHNICIAN,
    "DELETE rounds/{round_id}/readings/{uuid}": TECHNICIAN,
    "PUT rounds/{round_id}/late/{uuid}": TECHNICIAN,
    "GET rigs/{rig_id}/rounds/left": VIEWER,
    "POST rounds/{round_id}/amendments": TECHNICIAN,
    "GET morning": VIEWER,
    "GET morning/air": VIEWER,
    "GET rigs/{rig_id}/morning": VIEWER,
    "GET deflators": VIEWER,
    "POST deflators": TECHNICIAN,
    "PUT deflators/{set_id}": TECHNICIAN,
    "POST deflators/{set_id}/closings": TECHNICIAN,
    "POST work/ground": VIEWER,
    "POST work/refine/chalk": VIEWER,
    "GET rigs/{rig_id}/trials": VIEWER,
    "POST rigs/{rig_id}/trials": TECHNICIAN,
    "POST trials/{trial_id}/passes": TECHNICIAN,
    "POST trials/{trial_id}/end": TECHNICIAN,
    "GET surfaces": VIEWER,
    "PUT surfaces": MANAGER,
    "GET rigs/{rig_id}/ground": VIEWER,
    "POST rigs/{rig_id}/ground": TECHNICIAN,
    "GET rigs/{rig_id}/ground/past": VIEWER,
    "PUT rigs/{rig_id}/ground/axles/{number}": MANAGER,
    "PUT ground/{uuid}/step": TECHNICIAN,
    "PUT ground/{uuid}/entries/{entry}": TECHNICIAN,
    "DELETE ground/{uuid}/entries/{entry}": TECHNICIAN,
    "POST ground/{uuid}/learned": TECHNICIAN,
    "DELETE ground/{uuid}": TECHNICIAN,
    "GET rigs/{rig_id}/sensors": VIEWER,
    "PUT rigs/{rig_id}/sensors": TECHNICIAN,
    "PUT rigs/{rig_id}/glances/{uuid}": TECHNICIAN,
    "DELETE rigs/{rig_id}/glances/{uuid}": TECHNICIAN,
    "GET rigs/{rig_id}/lamp": VIEWER,
    "PUT rigs/{rig_id}/lamps/{uuid}": TECHNICIAN,
    # With the key of a receiver, not a session.
    "POST receivers/messages": ANYBODY,
    "POST rigs/{rig_id}/receivers": TECHNICIAN,
    "DELETE rigs/{rig_id}/receivers/{receiver_id}": TECHNICIAN,
    "GET rigs/{rig_id}/drives": VIEWER,
    "PUT rigs/{rig_id}/drives/{uuid}": TECHNICIAN,
    "GET rigs/{rig_id}/drives/{uuid}": VIEWER,
    "PUT rigs/{rig_id}/drives/{uuid}/pace": TECHNICIAN,
    "POST rigs/{rig_id}/drives/{uuid}/end": TECHNICIAN,
    "GET rigs/{rig_id}/drives/{uuid}/series": VIEWER,
    "GET rigs/{rig_id}/drives/{uuid}/numbers.csv": VIEWER,
    "PUT rigs/{rig_id}/numbers/{uuid}": TECHNICIAN,
    "PUT rigs/{rig_id}/numbers/{uuid}/slices/{number}": TECHNICIAN,
    "POST rigs/{rig_id}/numbers/{uuid}/finish": TECHNICIAN,
    "DELETE rigs/{rig_id}/numbers/{uuid}": TECHNICIAN,
    "POST work/numbers": VIEWER,
    "GET earlier": VIEWER,
    "GET earlier.csv": VIEWER,
    "GET rigs/{rig_id}/earlier": VIEWER,
    "PUT earlier/{uuid}": TECHNICIAN,
    "PUT earlier/{uuid}/slices/{number}": TECHNICIAN,
    "POST earlier/{uuid}/finish": TECHNICIAN,
    "DELETE earlier/{uuid}": TECHNICIAN,
    "POST work/earlier": VIEWER,
    "GET rigs/{rig_id}/alarms.csv": VIEWER,
    "GET rigs/{rig_id}/alarms.pdf": VIEWER,
    "POST work/lamp": VIEWER,
    "GET rigs/{rig_id}/kit": VIEWER,
    "PUT rigs/{rig_id}/kit": TECHNICIAN,
    "GET rigs/{rig_id}/valves": VIEWER,
    "PUT rigs/{rig_id}/valves": TECHNICIAN,
    "GET tables": VIEWER,
    "POST tables": MANAGER,
    "GET tables/samples": VIEWER,
    "POST tables/samples": MANAGER,
    "GET rigs/{rig_id}/weighings": VIEWER,
    "POST rigs/{rig_id}/weighings": TECHNICIAN,
    "GET rigs/{rig_id}/targets": VIEWER,
    "POST rigs/{rig_id}/targets": MANAGER,
    "GET rigs/{rig_id}/air": VIEWER,
    "PUT rigs/{rig_id}/air": TECHNICIAN,
    "POST rigs/{rig_id}/air/confirm": TECHNICIAN,
    "POST rigs/{rig_id}/rounds": TECHNICIAN,
    "GET rounds/{round_id}": VIEWER,
    "PUT rounds/{round_id}": TECHNICIAN,
    "DELETE rounds/{round_id}": TECHNICIAN,
    "PUT rounds/{round_id}/readings/{uuid}": TECHNICIAN,
    "POST rounds/{round_id}/seal": TECHNICIAN,
    "GET lookback/{rig_id}": VIEWER,
    "GET lookback/{rig_id}/rounds": VIEWER,
    "GET lookback/{rig_id}/rounds.csv": VIEWER,
    "GET yard": VIEWER,
    "GET yard/{rig_id}": VIEWER,
    "POST work/rigs": VIEWER,
    "POST work/tables": VIEWER,
    "POST work/weighing": VIEWER,
    "POST work/targets": VIEWER,
    "POST work/air": VIEWER,
    "POST work/rounds": VIEWER,
    "POST work/rounds/standing": VIEWER,
    "POST work/nothing": VIEWER,
}


def operations() -> list[str]:
    paths = ninja.get_openapi_schema(path_prefix="")["paths"]
    return sorted(f"{method.upper()} {path.lstrip('/')}" for path, methods in paths.items() for method in methods)


def test_every_operation_has_its_least_role_written_down() -> None:
    assert operations() == sorted(LEAST)


def body_for(operation: str, fleet: Fleet, round_id: int) -> Any:
    """A body that would be accepted, so that only the role can be in the way."""
    reading = {"wheel": "1L", "pressure": 624}
    air, night = {"outside_c": 10, "elevation_m": 410}, {"elevation_m": 640, "dawn_c": 2}
    beside = {"readings": [{"gauge": fleet.gauge, "pressure": 604}, {"gauge": second_gauge(fleet), "pressure": 600}]}
    put = {"what": "cargo", "mass": "20 kg", "rig": fleet.rig, "x": 2, "y": 0}
    return {
        "POST session": {"username": "x", "password": "y"},
        "POST session/demo": {"username": "x"},
        "POST first-run": {"workspace": "W", "name": "N", "username": "u", "password": "long enough to pass"},
        "PUT session/units": {"units": "metric"},
        "PUT session/workspace": {"workspace": 0},
        "POST workspaces": {"name": "Another"},
        "POST practice/tries": {"exercise": "bled"},
        "POST practice/try/judge": {"reason": "heat"},
        "POST practice/try/look": {"wheel": "1L", "gauge": "G1"},
        "POST people": {"name": "N", "username": f"u{uuid4().hex[:8]}", "password": "kelp-anchor-9", "role": "viewer"},
        "PUT people/{member_id}": {"role": "viewer"},
        "PUT people/{member_id}/off": {"off": False},
        "POST people/{member_id}/reset": {},
        "PUT session/password": {"old": "wrong", "new": "kelp-anchor-9"},
        "POST session/factor": {"password": "wrong"},
        "PUT session/factor": {"code": "000000"},
        "POST session/factor/codes": {"password": "wrong"},
        "POST session/factor/off": {"password": "wrong"},
        "POST session/join": {"key": "none"},
        "POST keys": {"name": "Script", "role": "viewer"},
        "POST links": {"name": "Guest", "role": "viewer"},
        "POST join": {"key": "none", "name": "N", "username": "guest", "password": "kelp-anchor-9"},
        "POST join/asked": {"key": "none"},
        "POST join/password": {"key": "none", "password": "kelp-anchor-9"},
        "PUT settings": {"reserve": 0.08, "step": "1 psi", "place_key": ""},
        "POST rigs": COACH | {"fleet_number": uuid4().hex[:8]},
        "PUT rigs/{rig_id}": COACH,
        "POST gauges": GAUGE | {"label": uuid4().hex[:8]},
        "PUT gauges/{gauge_id}": GAUGE,
        "POST gauges/{gauge_id}/calibrations": COMPARISON,
        "POST gauges/beside": beside,
        "POST work/gauges/beside": beside,
        "PUT gauges/{gauge_id}/suspicion": {"suspicion": ""},
        "POST gauges/{gauge_id}/bench": {"set_kpa": 600},
        "POST inflators": INFLATOR | {"label": uuid4().hex[:8]},
        "PUT inflators/{inflator_id}": INFLATOR,
        "POST work/gauges": {"gauge": fleet.gauge, "pairs": [{"reference": 400, "reading": 402}]},
        "POST work/gauges/job": {
            "inflator": inflator_of(fleet),
            "tires": [{"name": "1L", "from_kpa": 300, "to_kpa": 600, "volume_l": 95}],
        },
        "POST rigs/{rig_id}/rounds/quick": {
            "conditions": fleet.conditions(),
            "wheels": [{"wheel": "1L", "before": 624}],
        },
        "PUT rigs/{rig_id}/walk": {"codes": ["1R", "1L"]},
        "PUT rounds/{round_id}/notes/{uuid}": {"wheel": "1L", "leak": "none"},
        "PUT rounds/{round_id}/take": {"gauge": fleet.gauge, "wheels": ["1L"]},
        "POST rounds/{round_id}/radio": {"wheel": "1L", "device": "radio-digital"},
        "POST rounds/{round_id}/amendments": {**reading, "uuid": str(uuid4()), "reason": "misread"},
        "PUT rounds/{round_id}/late/{uuid}": {"take": False},
        "POST tables": TABLE,
        "POST tables/samples": {"key": "wisp-120-70r17"},
        "POST rigs/{rig_id}/weighings": TICKET,
        "POST rigs/{rig_id}/targets": {},
        "PUT rigs/{rig_id}/air": {"place_key": "still-water"},
        "POST rigs/{rig_id}/rounds": fleet.conditions(),
        "PUT rounds/{round_id}": fleet.conditions(),
        "PUT rounds/{round_id}/readings/{uuid}": reading,
        "POST rounds/{round_id}/seal": {"unread_reason": "dark"},
        "POST work/rigs": COACH,
        "POST work/tables": {k: v for k, v in TABLE.items() if k != "source"},
        "POST work/weighing": {"rig": fleet.rig, "axles": TICKET["axles"]},
        "POST work/targets": {"rig": fleet.rig},
        "POST work/air": {"rig": fleet.rig, "place_key": "still-water"},
        "POST work/rounds": {"round": round_id, **reading},
        "POST work/rounds/standing": {"rig": fleet.rig, "standing_h": "10"},
        "POST work/nothing": {},
        "POST rigs/import": {"content": FLEET_FILE},
        "PUT fleets/{uuid}": {"name": "a", "heading": "row,rig"},
        "PUT fleets/{uuid}/slices/{number}": {"text": "rig,R-1"},
        "POST work/rigs/import": {"content": FLEET_FILE},
        "PUT rigs/{rig_id}/hitch": {"behind": None},
        "POST rigs/{rig_id}/fittings": {"wheel": "1L", "new": {}, "fitted_on": "2026-05-01"},
        "POST rigs/{rig_id}/moves": {"moves": {"1L": "1R"}, "moved_on": "2026-05-02", "looked": True},
        "POST work/refine/rotation": {"rig": fleet.rig, "moves": {"1L": "1R"}},
        "POST tires/{tire_id}/events": {"uuid": str(uuid4()), "kind": "plug", "done_on": "2026-05-02"},
        "POST rigs/{rig_id}/fittings/described": {"fitted_on": "2026-05-02"},
        "PUT tires/{tire_id}/marks": {"casing": "C-4"},
        "PUT rigs/{rig_id}/odometer": {"odometer": "200 km"},
        "PUT rigs/{rig_id}/laid-up": {"until": (timezone.now() + dt.timedelta(days=60)).date().isoformat()},
        "PUT rigs/{rig_id}/out-of-service": {"why": "Hub"},
        "POST rigs/{rig_id}/sign-off": {"done": "Hub", "signed": "Manager"},
        "POST feeds": {"own": True},
        "POST tags": {"name": "North", "rigs": [fleet.rig]},
        "POST archived": {"rigs": [fleet.rig], "archived": False},
        "POST check-days": {"rigs": [fleet.rig], "days": 7},
        "POST work/targets/many": {"rigs": [fleet.rig]},
        "POST targets/many": {"rigs": [{"rig": fleet.rig, "uuid": str(uuid4()), "told_kpa": [620]}]},
        "POST targets/withdrawn": {"sets": [1]},
        "POST views": {"name": "Mine", "query": "lines=round"},
        "PUT notice": {"email": None},
        "POST work/assignments": GIVEN | {"rigs": [fleet.rig]},
        "POST assignments": GIVEN | {"rigs": [fleet.rig], "uuid": str(uuid4())},
        "PUT assignments/{assignment_id}": {"to": {}},
        "POST crews": {"name": uuid4().hex[:8], "members": []},
        "PUT crews/{crew_id}": {"name": "Other", "members": []},
        "PUT rigs/{rig_id}/pictures/{uuid}": {"what": "label", "content": "bm8="},
        "POST rigs/{rig_id}/torques": {"done_on": "2026-05-02", "odometer": "100 km"},
        "POST tires/{tire_id}/remove": {"removed_on": "2026-09-01"},
        "POST rigs/{rig_id}/worked-out": {"load_state": uuid4().hex[:8], "placed": [put]},
        "POST rigs/{rig_id}/load-states": {"name": uuid4().hex[:8]},
        "POST work/rigs/size": {"tire_size": "ST235/80R16 E"},
        "POST work/weighing/guide": {"rig": fleet.rig, "way": "passes"},
        "POST work/weighing/what-if": {"rig": fleet.rig, "placed": [put]},
        "POST work/weighing/ticket": {"rig": fleet.rig, "content": "bm8="},
        "POST work/weighing/scale": {"rig": fleet.rig, "scale": "platform", "on": ["0:1L"]},
        "POST work/weighing/scale-ticket": {"rig": fleet.rig, "scale": "platform", "way": "passes"},
        "POST work/targets/what-if": {"rig": fleet.rig, "placed": [put]},
        "POST weather/records": {"place": "P", "elevation_m": 0, "time_zone": "UTC", "content": "bm8="},
        "POST tables/import": {"content": FLEET_FILE},
        "PUT tables/{table_id}/check": {"checked": True},
        "POST work/tables/paste": {"text": "450\t485", "pressure_unit": "kPa", "mass_unit": "kg"},
        "POST work/tables/import": {"content": FLEET_FILE},
        "POST work/targets/edition": TABLE,
        "PUT rigs/{rig_id}/placard-row": {"light": True},
        "PUT rigs/{rig_id}/policy": {"check_days": 14},
        "PUT rigs/{rig_id}/chalk/{result_id}": {"withdrawn": False},
        "PUT rigs/{rig_id}/trip": {"legs": [night]},
        "POST work/air/elsewhere": {"rig": fleet.rig, "tire_c": 18, **air},
        "POST work/air/warm": {"rig": fleet.rig, "axle": 1, **air},
        "POST work/air/readings": {"rig": fleet.rig},
        "POST work/air/forecast": {"text": "2026-05-02 3 4", "today": "2026-05-01"},
        "POST work/air/trip": {"rig": fleet.rig, "legs": [night], **air},
        "POST work/air/trip-file": {"content": "bm8="},
        "POST deflators": DEFLATORS | {"label": uuid4().hex[:8]},
        "PUT deflators/{set_id}": DEFLATORS,
        "POST deflators/{set_id}/closings": {"gauge": fleet.gauge, "pressure": 300},
        "POST work/ground": {"rig": fleet.rig, "chain": ["gravel"]},
        "PUT surfaces": {"surfaces": []},
        "POST work/refine/chalk": {"trial": trial_of(fleet), **PASS},
        "POST rigs/{rig_id}/trials": {"number": 1, "gauge": fleet.gauge},
        "POST trials/{trial_id}/passes": {"uuid": str(uuid4()), **PASS},
        "POST trials/{trial_id}/end": {"how": "left"},
        "POST rigs/{rig_id}/ground": {"uuid": str(uuid4()), "chain": ["gravel"], "no_way_back": True},
        "PUT rigs/{rig_id}/ground/axles/{number}": {"role": "driven"},
        "PUT ground/{uuid}/step": {"step": 0},
        "PUT ground/{uuid}/entries/{entry}": {"wheel": "1L", "step": 0, "pressure": 600},
        "POST ground/{uuid}/learned": {"step": 0, "outcome": "through", "place": "Dune"},
        "PUT rigs/{rig_id}/sensors": {"kind": "cap"},
        "PUT rigs/{rig_id}/glances/{uuid}": {"stood_h": 9, "numbers": [{"wheel": "1L", "pressure": 600}]},
        "PUT rigs/{rig_id}/lamps/{uuid}": {"light": "solid", "which": "?", "seen": "flat"},
        "POST work/lamp": {"rig": fleet.rig},
        "POST rigs/{rig_id}/receivers": {"name": "In the cab"},
        "PUT rigs/{rig_id}/numbers/{uuid}": {
            "name": "a",
            "columns": [{"means": "at"}, {"means": "pressure", "wheel": "1L"}],
        },
        "PUT rigs/{rig_id}/numbers/{uuid}/slices/{number}": {"first": 2, "text": "2026-05-02,600"},
        "PUT earlier/{uuid}": {
            "name": "a",
            "rig": fleet.rig,
            "columns": [{"means": "at"}, {"means": "pressure", "wheel": "1L"}],
        },
        "PUT earlier/{uuid}/slices/{number}": {"first": 2, "text": "2026-05-02,600"},
        "POST work/earlier": {"rig": fleet.rig, "head": "at,1L\n2026-05-02,600"},
        "POST work/numbers": {"rig": fleet.rig, "head": "at,1L\n2026-05-02,600"},
        "PUT rigs/{rig_id}/drives/{uuid}": {"scene": "highway"},
        "PUT rigs/{rig_id}/drives/{uuid}/pace": {"pace": 10},
        "PUT rigs/{rig_id}/kit": {"items": [{"kind": "soap"}]},
        "PUT rigs/{rig_id}/valves": {"valves": [{"wheel": "1L", "reachable": True}]},
    }.get(operation)


GIVEN = {"to": {}, "on": timezone.now().date().isoformat()}
FLEET_FILE = base64.b64encode(b"row,rig\n").decode()


def tire_of(fleet: Fleet) -> int:
    """A tire that is on the fleet's coach."""
    found = Tire.objects.filter(fittings__rig=fleet.rig, fittings__removed_on=None).first()
    if found is None:
        body = {"wheel": "2Lo", "new": {}, "fitted_on": "2026-05-01"}
        assert fleet.api.call("POST", f"/rigs/{fleet.rig}/fittings", body).status_code == 204
        return tire_of(fleet)
    return found.pk


def state_of(fleet: Fleet) -> int:
    """A load state of the coach that is not in force."""
    state, _ = LoadState.objects.get_or_create(rig_id=fleet.rig, name="empty")
    return state.pk


def chalk_of(fleet: Fleet) -> int:
    """A chalk result of the coach."""
    manager = Person.objects.get(username="manager")
    given = {"load_state_id": state_of(fleet), "number": 1, "kpa": 600, "done_on": dt.date(2026, 9, 20), "by": manager}
    return ChalkResult.objects.get_or_create(rig_id=fleet.rig, typed="by hand", defaults=given)[0].pk


def second_gauge(fleet: Fleet) -> int:
    """Another gauge of the drawer."""
    given = {"kind": "digital", "high_kpa": 1100, "resolution_kpa": 1}
    workspace = Rig.objects.get(pk=fleet.rig).workspace
    return Gauge.objects.get_or_create(label="Second", workspace=workspace, defaults=given)[0].pk


def inflator_of(fleet: Fleet) -> int:
    """An inflator of the workspace."""
    workspace = Rig.objects.get(pk=fleet.rig).workspace
    given = {"supply": "clamps", "max_kpa": 850}
    return Inflator.objects.get_or_create(label="I1", workspace=workspace, defaults=given)[0].pk


DEFLATORS = {"label": "D1", "count": 4, "set_kpa": "18 psi"}


PASS = {"pressure": 600, "left": ["left", "gone", "left"], "right": ["left", "gone", "left"]}


def trial_of(fleet: Fleet) -> int:
    """A chalk trial of the coach that has ended."""
    technician = Person.objects.get(username="technician")
    given = {
        "load_state_id": state_of(fleet), "gauge_id": fleet.gauge, "begun_at": timezone.now(), "begun_by": technician, "ended": "left",
    }  # fmt: skip
    return ChalkTrial.objects.get_or_create(rig_id=fleet.rig, number=2, defaults=given)[0].pk


def deflators_of(fleet: Fleet) -> int:
    """A set of deflators of the workspace."""
    workspace = Rig.objects.get(pk=fleet.rig).workspace
    return Deflators.objects.get_or_create(label="D1", workspace=workspace, defaults={"count": 4, "set_kpa": 124})[0].pk


def plan_of(fleet: Fleet) -> UUID:
    """A ground plan of the coach that is closed."""
    now, technician = timezone.now(), Person.objects.get(username="technician")
    given = {
        "uuid": uuid4(), "opened_at": now, "received_at": now, "opened_by": technician, "closed_at": now,
        "text": {"version": 1, "value": {"stretches": [], "patterns": [], "wheels": []}}, "elevation_m": 410, "heavy": True,
        "back_words": {"text": "", "values": []},
    }  # fmt: skip
    found: UUID = GroundPlan.objects.get_or_create(rig_id=fleet.rig, place="Dune", defaults=given)[0].uuid
    return found


def picture_of(fleet: Fleet) -> UUID:
    """A picture of the coach that the technician took."""
    technician = Person.objects.get(username="technician")
    rig = Rig.objects.get(pk=fleet.rig)
    given = {"content": "0" * 64, "size": 1, "width": 1, "height": 1, "taken_by": technician, "uuid": uuid4()}
    found: UUID = Picture.objects.get_or_create(rig=rig, workspace=rig.workspace, what="label", defaults=given)[0].pk
    return found


def rotation_of(fleet: Fleet) -> int:
    """A rotation of the coach whose sensors are learned already."""
    now, technician = timezone.now(), Person.objects.get(username="technician")
    given = {"moves": {}, "done_on": now.date(), "by": technician}
    return Rotation.objects.get_or_create(rig_id=fleet.rig, entered_at=now, defaults=given)[0].pk


def receiver_of(fleet: Fleet) -> int:
    """A receiver of the coach."""
    given = {"key_hash": uuid4().hex, "by": Person.objects.get(username="technician")}
    return Receiver.objects.get_or_create(rig_id=fleet.rig, name="Bench", ended_at=None, defaults=given)[0].pk


def crew_of(fleet: Fleet) -> int:
    """A crew of the workspace, of nobody."""
    return Crew.objects.get_or_create(workspace=Rig.objects.get(pk=fleet.rig).workspace, name="Other")[0].pk


def assignment_of(fleet: Fleet) -> int:
    """A round of the coach that the technician has to do, far ahead."""
    now, rig = timezone.now(), Rig.objects.get(pk=fleet.rig)
    technician, far = Person.objects.get(username="technician"), now.date() + dt.timedelta(days=90)
    given = {"workspace": rig.workspace, "person": technician, "batch": uuid4(), "by": technician, "made_at": now}
    return Assignment.objects.get_or_create(rig=rig, on=far, ended_at=None, defaults=given)[0].pk


def key_of(fleet: Fleet) -> int:
    """A key of the viewer's."""
    given = {"key_hash": uuid4().hex, "role": "viewer", "made_at": timezone.now()}
    workspace, viewer = Rig.objects.get(pk=fleet.rig).workspace, Person.objects.get(username="viewer")
    return ApiKey.objects.get_or_create(
        workspace=workspace, person=viewer, name="Other", ended_at=None, defaults=given
    )[0].pk


def link_of(fleet: Fleet) -> int:
    """An invitation that is still good."""
    now, manager = timezone.now(), Person.objects.get(username="manager")
    given = {"key_hash": uuid4().hex, "made_by": manager, "made_at": now, "ends_at": now + dt.timedelta(hours=72)}
    workspace = Rig.objects.get(pk=fleet.rig).workspace
    return Link.objects.get_or_create(
        workspace=workspace, name="Other", ended_at=None, defaults=given | {"role": "viewer"}
    )[0].pk


def event_of(fleet: Fleet) -> UUID:
    """A plug in the tire of the workspace that the technician entered."""
    technician = Person.objects.get(username="technician")
    given = {"uuid": uuid4(), "done_on": timezone.now().date(), "by": technician, "entered_at": timezone.now()}
    found: UUID = TireEvent.objects.get_or_create(
        tire_id=tire_of(fleet), words="Nail", defaults=given | {"kind": "plug"}
    )[0].uuid
    return found


def record_of(fleet: Fleet) -> int:
    """A weather record of the workspace."""
    manager = Person.objects.get(username="manager")
    given = {"elevation_m": 0, "start": timezone.now(), "hours": [], "time_zone": "UTC", "brought_by": manager}
    workspace = Rig.objects.get(pk=fleet.rig).workspace
    return Record.objects.get_or_create(name="Here", workspace=workspace, defaults=given)[0].pk


def address(operation: str, fleet: Fleet, round_id: int, member_id: int) -> tuple[str, str]:
    method, path = operation.split(" ")
    given = {
        "rig_id": fleet.rig, "gauge_id": fleet.gauge, "round_id": round_id, "member_id": member_id,
        "weighing_id": fleet.weighing, "tire_id": tire_of(fleet), "state_id": state_of(fleet), "table_id": fleet.table,
        "result_id": chalk_of(fleet), "record_id": record_of(fleet), "inflator_id": inflator_of(fleet),
        "set_id": deflators_of(fleet), "number": 2, "entry": uuid4(), "trial_id": trial_of(fleet),
        "rotation_id": rotation_of(fleet), "receiver_id": receiver_of(fleet), "session_id": 2**40, "key_id": key_of(fleet),
        "link_id": link_of(fleet), "assignment_id": assignment_of(fleet), "crew_id": crew_of(fleet), "feed_id": 2**40, "view_id": 2**40,
    }  # fmt: skip
    uuids = {"pictures": picture_of, "ground": plan_of, "tires": event_of}
    uuid = uuids.get(path.split("/")[0], lambda _: uuid4())(fleet)
    return method, path.format(**given, key="still-water", uuid=uuid)


@pytest.mark.parametrize("role", ["viewer", "technician", "manager"])
def test_each_role_may_do_just_what_is_written_down(role: str, aimed: Fleet, api_as: Callable[[str], Api]) -> None:
    # Abandoning is for whoever opened it: the technician too.
    opener = api_as("technician" if role == "technician" else "manager")
    round_id = opener.ok("POST", f"/rigs/{aimed.rig}/rounds", aimed.conditions())["id"]
    aimed.read(round_id, "1L", 624)
    member = next(m["id"] for m in aimed.api.ok("GET", "/people") if m["username"] == "viewer")
    wrong = []
    # Leaving comes last: it ends the session. Abandoning too: it ends the round.
    # Practice comes last of all: there one is manager of a world of one's own.
    order = sorted(
        LEAST, key=lambda o: (o == "DELETE session", "practice/tr" in o, o.startswith("DELETE"), "seal" in o)
    )
    for operation in order:
        method, path = address(operation, aimed, round_id, member)
        api = api_as(role)
        code = api.call(method, path, body_for(operation, aimed, round_id)).status_code
        allowed = RANK[role] >= LEAST[operation]
        if (code == 403) is allowed and operation not in ("POST session/demo",):
            wrong.append((operation, code))
    assert wrong == []


def test_signed_out_nothing_is_seen(aimed: Fleet) -> None:
    nobody = Api(Client())
    said = {}
    for operation in sorted(o for o, least in LEAST.items() if least != ANYBODY):
        method, path = address(operation, aimed, 1, 1)
        reply = nobody.call(method, path, body_for(operation, aimed, 1))
        said[operation] = (reply.status_code, "Sign in again" in json.loads(reply.content)["message"])
    assert {operation: told for operation, told in said.items() if told != (401, True)} == {}


def test_another_workspace_sees_nothing_of_ours(aimed: Fleet, stranger: Api) -> None:
    round_id = aimed.open_round()["id"]
    member = aimed.api.ok("GET", "/people")[0]["id"]
    # Under a name of their own they begin a file of their own.
    foreign = [o for o in LEAST if "{" in o and "{key}" not in o and o != "PUT fleets/{uuid}"]
    for operation in foreign:
        method, path = address(operation, aimed, round_id, member)
        reply = stranger.call(method, path, body_for(operation, aimed, round_id))
        assert reply.status_code == 404, (operation, reply.status_code, reply.content)
    for listing in ("/rigs", "/gauges", "/tables", "/inflators", "/deflators", "/gauges/beside"):
        assert stranger.ok("GET", listing) == []
    assert stranger.ok("GET", "/yard")["rigs"] == []
    assert stranger.ok("GET", "/morning")["rigs"] == []
    assert [p["username"] for p in stranger.ok("GET", "/people")] == ["stranger"]


def test_work_calls_do_not_reach_into_another_workspace(aimed: Fleet, stranger: Api) -> None:
    round_id = aimed.open_round()["id"]
    reaching = (
        "POST work/weighing", "POST work/weighing/guide", "POST work/weighing/what-if", "POST work/weighing/scale",
        "POST work/weighing/scale-ticket", "POST work/targets", "POST work/targets/what-if", "POST work/air",
        "POST work/rounds", "POST work/gauges", "POST work/air/elsewhere", "POST work/air/warm", "POST work/air/readings", "POST work/air/trip",
        "POST work/ground", "POST work/refine/chalk", "POST work/lamp", "POST work/numbers",
        "POST work/earlier",
    )  # fmt: skip
    for operation in reaching:
        method, path = operation.split(" ")
        assert stranger.call(method, path, body_for(operation, aimed, round_id)).status_code == 404, operation


def test_what_is_named_in_a_body_must_be_ours_too(aimed: Fleet, stranger: Api) -> None:
    theirs = furnish(stranger)
    ours = aimed
    told = ours.api.no("POST", f"/rigs/{ours.rig}/targets", {"tables": [theirs.table]}, 422, "tables.0")
    assert "in this workspace" in told
    ours.api.no("POST", f"/rigs/{ours.rig}/targets", {"weighing": theirs.weighing}, 422, "weighing")
    ours.api.no("POST", f"/rigs/{ours.rig}/rounds", ours.conditions(gauge=theirs.gauge), 422, "gauge")
    ours.api.no("POST", f"/rigs/{ours.rig}/weighings", TICKET | {"amends": theirs.weighing}, 422, "amends")
    ours.api.no("POST", "/tables", TABLE | {"replaces": theirs.table}, 422, "replaces")
    assert Rig.objects.count() == 2
