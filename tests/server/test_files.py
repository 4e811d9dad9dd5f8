"""Files in and out: what is no file, and what a spreadsheet would run."""

import base64

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ballast.core.refusal import Refusal
from ballast.server.edge.files import (
    MOST_BYTES,
    attachment,
    csv_in_units,
    csv_text,
    harmed,
    harmless,
    read_rows,
    read_text,
)


def sent(data: bytes) -> str:
    return base64.b64encode(data).decode()


@pytest.mark.parametrize("text", ["=1+1", "+1", "-1", "-1+2", "-cmd", "@SUM(A1)", "\tx"])
def test_what_a_spreadsheet_would_run_is_made_plain(text: str) -> None:
    assert harmless(text) == f"'{text}"
    assert harmed(harmless(text)) == text


@given(st.text(max_size=30))
def test_out_and_in_again_is_the_same(text: str) -> None:
    if text[:1] != "'":
        assert harmed(harmless(text)) == text
    assert harmless(text)[:1] not in ("=", "+", "-", "@", "\t", "\r")


def test_one_way_out_for_rows() -> None:
    rows = [{"a": "=cmd", "b": -3.456, "c": True, "d": None}, {"a": "-2.5", "b": -7}]
    assert csv_text(("a", "b", "c", "d"), rows) == "a,b,c,d\r\n'=cmd,-3.46,yes,\r\n'-2.5,-7,,\r\n"
    with pytest.raises(ValueError, match="fields not in"):
        csv_text(("a",), [{"z": 1}])


def test_utf_16_is_read_by_its_mark_and_other_encodings_are_told() -> None:
    assert read_text(sent("Größe".encode("utf-16"))) == "Größe"
    assert read_text(sent("\ufeffsize".encode())) == "size"
    with pytest.raises(Refusal, match="not in UTF-8"):
        read_text(sent("Größe".encode("latin-1")))


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("not base64!", "did not arrive whole"),
        (sent(b" \n "), "empty"),
        (sent(b"a\x00b"), "no text file"),
        (sent(b"x" * (MOST_BYTES + 1)), "the most is"),
    ],
)
def test_what_is_no_file(content: str, words: str) -> None:
    with pytest.raises(Refusal, match=words) as no:
        read_text(content)
    assert no.value.field == "content"


@pytest.mark.parametrize("mark", [",", ";", "\t"])
def test_rows_by_their_columns_whatever_parts_them(mark: str) -> None:
    text = f"Dawn{mark}Name\n-4 C{mark}Pass\n\n2 C{mark}'=Lake\n"
    assert read_rows(text, ("dawn",), ("dawn", "name")) == [
        {"dawn": "-4 C", "name": "Pass"}, {"dawn": "2 C", "name": "=Lake"},
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("name\nPass\n", "lacks the column dawn"),
        ("dawn,wind\n1,2\n", "column wind is not known"),
        ("dawn\n" + "1\n" * 9, "9 rows, the most is 8"),
    ],
)
def test_rows_that_are_none(text: str, words: str) -> None:
    with pytest.raises(Refusal, match=words):
        read_rows(text, ("dawn",), ("dawn", "name"), most=8)


def test_a_download_has_its_name_and_kind() -> None:
    text, data = attachment("a,b", "x.csv", "text/csv"), attachment(b"%PDF", "x.pdf", "application/pdf")
    assert text["Content-Type"] == "text/csv; charset=utf-8"
    assert data["Content-Type"] == "application/pdf"
    assert data["Content-Disposition"] == 'attachment; filename="x.pdf"'


def test_a_file_has_the_persons_own_units_beside_the_canonical_ones() -> None:
    rows = [{"wheel": "1L", "found_kpa": 689.4757, "outside_c": -10.0, "elevation_m": None, "rate_kpa_month": 6.894757}]
    columns = ("wheel", "found_kpa", "outside_c", "elevation_m", "rate_kpa_month")
    assert csv_in_units(columns, rows, "metric") == csv_text(columns, rows)
    # 689.4757 kPa are 100 psi, −10 °C are 14 °F; bar and °C where each is chosen by itself.
    assert csv_in_units(columns, rows, "us").splitlines() == [
        "wheel,found_kpa,found_psi,outside_c,outside_f,elevation_m,elevation_ft,rate_kpa_month,rate_psi_month",
        "1L,689.48,100.00,-10.00,14.00,,,6.89,1.00",
    ]
    assert csv_in_units(columns, rows, "bar kg °C m").splitlines()[1] == "1L,689.48,6.89,-10.00,,6.89,0.07"
