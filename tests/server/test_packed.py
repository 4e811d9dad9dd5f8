"""What is kept compressed: also what was kept before there was a dictionary, and by the one that is in use."""

import json
import zlib
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
import zstandard

from ballast.server.edge.packed import pack, unpack

WHEEL = {
    "code": "1L", "name": "Front left", "own": "1L", "rig": 3, "axle": 1, "spare": False, "floor_kpa": 665.3,
}  # fmt: skip
TEXT = {"version": 2, "value": {"wheels": [WHEEL]}}
# As it was kept by dictionary number 1: changed, it would read no round of before.
KEPT = bytes.fromhex("28b52ffd2101806d0000287b7d5d7d7d0100f88a499910")


def test_what_was_kept_stays_readable() -> None:
    assert unpack(KEPT) == TEXT
    assert unpack(memoryview(KEPT)) == TEXT
    assert unpack(zlib.compress(json.dumps(TEXT).encode())) == TEXT


def test_a_dictionary_of_another_number_is_not_taken_for_this_one() -> None:
    other = zstandard.ZstdCompressionDict(b"front left rear right " * 40, dict_type=zstandard.DICT_TYPE_RAWCONTENT)
    foreign = zstandard.ZstdCompressor(dict_data=other).compress(json.dumps(TEXT).encode())
    assert zstandard.get_frame_parameters(KEPT).dict_id == 1
    with pytest.raises((zstandard.ZstdError, ValueError)):
        unpack(foreign)


@pytest.mark.parametrize("value", [[], {}, "", 0, None, "°C ≥ é", [1.5, None, {"a": [True]}]])
def test_any_value_comes_back_as_it_was(value: Any) -> None:
    assert unpack(pack(value)) == value


def test_many_threads_pack_at_once() -> None:
    values = [{"rig": n, "words": [f"Axle {n} left"] * n} for n in range(200)]
    with ThreadPoolExecutor(8) as threads:
        assert list(threads.map(lambda v: unpack(pack(v)), values)) == values
