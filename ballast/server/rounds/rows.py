"""A sealed round as rows for a spreadsheet: what a column holds stands beside its name."""

from collections.abc import Callable

from ballast.core import rounds as core
from ballast.core.units import System
from ballast.server.edge.files import csv_in_units
from ballast.server.rounds.schemas import Mended
from ballast.server.rounds.sealed import Sealed

Value = str | float | bool | None


def _with_unit(typed: str) -> str:
    """What was typed, its unit spelled out where it was typed bare: kPa then."""
    return f"{typed} kPa" if typed and not any(c.isalpha() for c in typed) else typed


_OF_ROUND: dict[str, Callable[[Sealed], Value]] = {
    "rig": lambda r: r.rig_name,
    "sealed_at_utc": lambda r: r.sealed_at.isoformat().replace("+00:00", "Z") if r.sealed_at else None,
    "sealed_by": lambda r: r.sealed_by,
    "signed": lambda r: r.signed,
    "gauge": lambda r: r.gauge_label,
    "place": lambda r: r.place,
    "outside_c": lambda r: r.outside_c,
    "elevation_m": lambda r: r.elevation_m,
    "stood_h": lambda r: r.standing_h,
    "shop_c": lambda r: r.shop_c,
    "cold": lambda r: r.cold,
    "odometer_km": lambda r: r.odometer_km,
}
_OF_WHEEL: dict[str, Callable[[core.Wheel], Value]] = {
    "wheel": lambda w: w.code,
    "wheel_name": lambda w: w.name,
    "target_here_kpa": lambda w: w.here_kpa,
    "found_typed": lambda w: _with_unit(w.before.typed) if w.before else "",
    "found_kpa": lambda w: w.before.corrected_kpa if w.before else None,
    "found_gauge": lambda w: w.before.gauge if w.before else None,
    "found_by": lambda w: w.before.by if w.before else None,
    "left_typed": lambda w: _with_unit(w.after.typed) if w.after else "",
    "left_kpa": lambda w: w.after.corrected_kpa if w.after else None,
    "answer": lambda w: w.stands.word,
    "uncertainty_kpa": lambda w: w.stands.uncertainty_kpa,
    "leak": lambda w: w.seen.leak,
    "cap": lambda w: w.seen.cap,
    "valve": lambda w: w.seen.valve,
    "tread_inner_mm": lambda w: w.seen.tread.inner_mm if w.seen.tread else None,
    "tread_centre_mm": lambda w: w.seen.tread.centre_mm if w.seen.tread else None,
    "tread_outer_mm": lambda w: w.seen.tread.outer_mm if w.seen.tread else None,
    "damage": lambda w: w.seen.damage,
    "sensor_kpa": lambda w: w.seen.sensor_kpa,
    "display": lambda w: w.seen.display_label,
    "display_kpa": lambda w: w.seen.display_kpa,
    "inspected": lambda w: w.seen.inspected,
    "inspected_by": lambda w: w.seen.inspected_by,
    "note": lambda w: w.seen.note,
}
_OF_MENDED: dict[str, Callable[[Mended], Value]] = {
    "amended_to_kpa": lambda a: a.corrected_kpa,
    "amended_because": lambda a: a.reason,
}
_COLUMNS = (*_OF_ROUND, *_OF_WHEEL, "not_read_because", *_OF_MENDED)


def of_round(value: Sealed, system: System) -> str:
    """A sealed round as CSV (RFC 4180, UTF-8), a line a wheel, canonical units and the person's own."""
    return csv_in_units(_COLUMNS, [_row(value, w) for w in value.wheels], system)


def _row(value: Sealed, wheel: core.Wheel) -> dict[str, Value]:
    mended = [a for a in value.amendments if a.wheel == wheel.code and a.kind == "reading"]
    why = wheel.seen.skipped or (value.unread_reason if not wheel.before else "")
    return {
        **{name: of(value) for name, of in _OF_ROUND.items()},
        **{name: of(wheel) for name, of in _OF_WHEEL.items()},
        "not_read_because": why,
        **{name: of(mended[-1]) if mended else None for name, of in _OF_MENDED.items()},
    }
