"""Numbers out of a file: columns as chosen, moments as written, and every fault with its row."""

import datetime as dt
from typing import Any

import pytest

from ballast.core.columns import OF_SENSORS, Column, Columns, Reader, guess
from ballast.core.refusal import Refusal

WHEELS = {"": {w: w for w in ("1L", "1R", "2L", "2R", "S1")}}
LONG = (Column("at"), Column("wheel"), Column("pressure"), Column("temperature"))


def read(rows: list[list[str]], columns: tuple[Column, ...] = LONG, **more: Any) -> Any:
    return Reader(Columns(columns, **more), WHEELS).read(rows, 2)


def test_a_row_a_wheel_in_ones_own_units_names_and_zone() -> None:
    rows, faults = read(
        [["11/28/2026 9:05 PM", "FL", "36.5", "77"], ["11/28/2026 9:05 PM", "pump", "99", ""], ["", "", "", ""]],
        order="mdy", zone="America/Denver", pressure_unit="psi", temperature_unit="°F", names={"FL": "1L", "pump": ""},
    )  # fmt: skip
    assert faults == []
    (row,) = rows
    assert row.at == dt.datetime(2026, 11, 29, 4, 5, tzinfo=dt.UTC)
    (said,) = row.read
    assert (said.wheel, said.kpa, said.tire_c) == ("1L", pytest.approx(251.6586), pytest.approx(25.0))


def test_a_column_a_wheel_with_its_own_clock() -> None:
    columns = (
        Column("at"),
        Column("clock"),
        Column("pressure", "1L"),
        Column("pressure", "1R"),
        Column("temperature", "1R"),
        Column("outside"),
    )
    rows, faults = read([["28.11.2026", "09:05:30", "2,50", "2,4", "31", "12"], ["28.11.2026", "09:06", "", "2.4"]], columns,
                        order="dmy", pressure_unit="bar")  # fmt: skip
    assert faults == []
    assert rows[0].at == dt.datetime(2026, 11, 28, 9, 5, 30, tzinfo=dt.UTC)
    assert [(s.wheel, round(s.kpa, 3), s.tire_c) for s in rows[0].read] == [("1L", 250.0, None), ("1R", 240.0, 31.0)]
    assert rows[0].outside_c == 12
    # A cell that is empty says nothing, and is not zero.
    assert [(s.wheel, s.tire_c) for s in rows[1].read] == [("1R", None)]


@pytest.mark.parametrize(
    ("cells", "told"),
    [
        (["28/11/2026", "1L", "250", ""], "no moment in the order year, month, day"),
        (["2026-11-31", "1L", "250", ""], "no moment"),
        (["2026-11-28 09:00", "Front", "250", ""], "“Front” is no wheel of it"),
        (["2026-11-28 09:00", "1L", "soft", ""], "not a number"),
        (["2026-11-28 09:00", "1L", "2500", ""], "check the unit"),
        (["2026-11-28 09:00", "1L", "-3", ""], "check the unit"),
        (["2026-11-28 09:00", "1L", "250", "177"], "check the unit"),
    ],
)
def test_a_fault_is_told_with_its_row(cells: list[str], told: str) -> None:
    rows, (fault,) = read([["2026-11-28T09:00:00+02:00", "1R", "250", ""], cells])
    assert len(rows) == 1
    assert fault.row == 3
    assert told in fault.words


@pytest.mark.parametrize(
    ("columns", "told"),
    [
        ((Column("wheel"), Column("pressure")), "No column says when"),
        ((Column("at"), Column("wheel")), "No column is a pressure"),
        ((Column("at"), Column("pressure")), "Say which wheel column 2 is of"),
        ((Column("at"), Column("at"), Column("pressure", "1L")), "Two columns"),
    ],
)
def test_columns_that_do_not_do_are_refused(columns: tuple[Column, ...], told: str) -> None:
    with pytest.raises(Refusal, match=told):
        Reader(Columns(columns), WHEELS)
    with pytest.raises(Refusal, match="time zone"):
        Reader(Columns(LONG, zone="Nowhere/Else"), WHEELS)


def test_headings_are_guessed_to_be_looked_at() -> None:
    assert guess(["Date", "Time", "Tire", "kPa", "Tire temp", "Ambient temp", "Volts"]) == [
        "at", "clock", "wheel", "pressure", "temperature", "outside", "",
    ]  # fmt: skip
    heads = ["When", "Fleet number", "Wheel", "Pressure", "Gauge used", "Altitude ft"]
    assert guess(heads) == ["at", "rig", "wheel", "pressure", "gauge", "elevation"]
    assert guess(heads, OF_SENSORS) == ["at", "", "wheel", "pressure", "", ""]


FLEET = {
    "cf-01": {"1L": "1L", "1R": "1R", "Front left": "1L"}, "cf-02": {"1L": "1L", "2L": "2L", "Rear left": "2L"},
}  # fmt: skip
OF_FLEET = (
    Column("at"), Column("rig"), Column("wheel"), Column("pressure"), Column("outside"), Column("elevation"), Column("gauge"),
)  # fmt: skip


def test_rows_of_a_fleet_name_their_rig_and_the_place_that_they_were_read_at() -> None:
    reader = Reader(Columns(OF_FLEET, pressure_unit="psi", temperature_unit="°F", length_unit="ft"), FLEET)
    rows, faults = reader.read(
        [
            ["2024-03-01", "CF-01", "Front left", "90", "50", "1000", "Old dial"],
            ["2024-03-01", "cf-02", "2L", "65", "", "", ""],
            ["2024-03-01", "CF-02", "1R", "65"],
            ["2024-03-01", "CF-03", "1L", "65"],
            ["2024-03-01", "", "1L", "65"],
            ["2024-03-01", "CF-02", "1L", "65", "50", "30000"],
        ],
        2,
    )
    first, bare = rows
    assert (first.rig, first.gauge) == ("CF-01", "Old dial")
    assert [(n.wheel, n.kpa) for n in first.read] == [("1L", pytest.approx(620.528))]
    assert (first.outside_c, first.elevation_m) == (pytest.approx(10), pytest.approx(304.8))
    # Nothing is said of its air, and nothing is taken for it.
    assert (bare.outside_c, bare.elevation_m) == (None, None)
    assert [(f.row, f.words.split(":")[0]) for f in faults] == [
        (4, "“1R” is no wheel of it. Say which one is meant, or leave it out."),
        (5, "“CF-03” is no rig of this workspace, by its number or its name."),
        (6, "“” is no rig of this workspace, by its number or its name."),
        (7, "“30000” ft is no elevation"),
    ]
    assert (reader.strange, reader.strange_rigs) == ({"1R"}, {"CF-03", ""})
    with pytest.raises(Refusal, match="which rig"):
        Reader(Columns(LONG), FLEET)


def test_a_column_of_a_wheel_that_a_rig_has_not_got_is_empty_there() -> None:
    reader = Reader(Columns((Column("at"), Column("rig"), Column("pressure", "1R"), Column("pressure", "1L"))), FLEET)
    rows, (fault,) = reader.read(
        [["2024-03-01", "CF-01", "600", "610"], ["2024-03-01", "CF-02", "", "450"], ["2024-03-01", "CF-02", "440", ""]],
        2,
    )
    assert [[n.wheel for n in r.read] for r in rows] == [["1R", "1L"], ["1L"]]
    assert (fault.row, fault.words) == (4, "It has no wheel 1R: leave the cell empty, or the column out.")
