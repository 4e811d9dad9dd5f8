"""Typed quantities on the wire: a number in the canonical unit, or words with a unit ("93.5 psi")."""

import datetime as dt
import re
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import AfterValidator, Field, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from ballast.core import units
from ballast.core.refusal import Refusal


@dataclass(frozen=True)
class Entry:
    """A canonical value, and what the person typed for it."""

    value: float
    typed: str


class Quantity:
    """Reads a quantity of one kind, canonical bounds included, into an Entry."""

    def __init__(self, kind: units.Kind, low: float, high: float, unit: str | None = None) -> None:
        self.kind, self.low, self.high, self.unit = kind, low, high, unit

    def read(self, typed: Any) -> Entry:
        if isinstance(typed, Entry):
            return typed
        try:
            value = units.parse(self.kind, typed, self.low, self.high, self.unit)
        except Refusal as no:
            raise PydanticCustomError("refusal", "{message}", {"message": no.message}) from None
        text = typed if isinstance(typed, str) else f"{typed:g} {self.unit or units.CANONICAL[self.kind]}"
        return Entry(value, text.strip()[:40])

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(
            self.read, serialization=core_schema.plain_serializer_function_ser_schema(lambda e: e.typed)
        )

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        unit = self.unit or units.CANONICAL[self.kind]
        low, high = (round(units.from_canonical(v, unit), 6) for v in (self.low, self.high))
        return {
            "anyOf": [
                {"type": "number", "minimum": low, "maximum": high},
                {"type": "string", "minLength": 1, "maxLength": 60},
            ],
            "description": f"A {self.kind}: a number in {unit}, or text with a unit.",
        }


class Number:
    """A plain number within bounds, as a number or as typed."""

    def __init__(self, noun: str, low: float, high: float, whole: bool = False) -> None:
        self.noun, self.low, self.high, self.whole = noun, low, high, whole

    def read(self, typed: Any) -> float | int:
        bounds = f"from {self.low:g} to {self.high:g}"
        try:
            if isinstance(typed, bool) or not isinstance(typed, str | int | float):
                raise Refusal(f"Enter {self.noun}, {bounds}.")
            value = units.number(typed) if isinstance(typed, str) else float(typed)
            # A NaN compares false with everything, so it is refused here as well.
            if not self.low <= value <= self.high:
                raise Refusal(f"{self.noun.capitalize()} goes {bounds}. Check the digits.")
            if self.whole and value != int(value):
                raise Refusal(f"{self.noun.capitalize()} is a whole number, {bounds}.")
        except Refusal as no:
            raise PydanticCustomError("refusal", "{message}", {"message": no.message}) from None
        return int(value) if self.whole else value

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(self.read, serialization=core_schema.to_string_ser_schema())

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        number = {"type": "integer" if self.whole else "number", "minimum": self.low, "maximum": self.high}
        return {"anyOf": [number, {"type": "string", "minLength": 1, "maxLength": 40}], "description": self.noun}


def _printable(text: str) -> str:
    # Marks that turn the direction of writing around would show another name than is stored.
    if re.search(r"[\x00-\x08\x0b-\x1f\x7f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ud800-\udfff]", text):
        raise PydanticCustomError("refusal", "It has characters that cannot be printed. Type it again.")
    return text


def _known_day(day: dt.date) -> dt.date:
    if day.year < 1990:
        raise PydanticCustomError("refusal", "The date lies before 1990. Check the year.")
    return day


class Words:
    """Text of bounded length, trimmed, without control characters."""

    def __init__(self, longest: int, shortest: int = 0) -> None:
        self.longest, self.shortest = longest, shortest

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        text = core_schema.str_schema(strip_whitespace=True, min_length=self.shortest, max_length=self.longest)
        return core_schema.no_info_after_validator_function(_printable, text)


Pressure = Annotated[Entry, Quantity("pressure", 0, 1400)]
Load = Annotated[Entry, Quantity("mass", 0, 100_000)]
SignedLoad = Annotated[Entry, Quantity("mass", -20_000, 20_000)]
Rating = Annotated[Entry, Quantity("mass", 10, 200_000)]
Resolution = Annotated[Entry, Quantity("mass", 0, 500)]
Temperature = Annotated[Entry, Quantity("temperature", -60, 60)]
Elevation = Annotated[Entry, Quantity("length", -500, 9000)]
Distance = Annotated[Entry, Quantity("length", 0, 40)]
Track = Annotated[Entry, Quantity("length", 0.2, 4)]
Place = Annotated[Entry, Quantity("length", -20, 40)]
Across = Annotated[Entry, Quantity("length", -2, 2)]
Volume = Annotated[Entry, Quantity("volume", 0, 5000)]
Odometer = Annotated[Entry, Quantity("distance", 0, 5_000_000)]
Speed = Annotated[Entry, Quantity("speed", 10, 300)]
# Tread and measured diameter: a bare number is in millimeters.
Tread = Annotated[Entry, Quantity("length", 0, 0.05, "mm")]
Diameter = Annotated[Entry, Quantity("length", 0.2, 2, "mm")]
RimWidth = Annotated[float, Number("a rim width in inches", 1, 20)]
LoadIndex = Annotated[int, Number("a load index", 0, 279, whole=True)]
Hours = Annotated[float, Number("hours", 0, 20_000)]
Share = Annotated[float, Number("a share", 0, 0.5)]
Edge = Annotated[float, Number("an edge allowance", 0, 0.1)]
CheckDays = Annotated[int, Number("days until the next check", 1, 31, whole=True)]
ColdAfter = Annotated[float, Number("hours", 0.25, 24)]
Station = Annotated[Entry, Quantity("pressure", 20, 120)]
TireTemperature = Annotated[Entry, Quantity("temperature", -60, 150)]
Day = Annotated[dt.date, AfterValidator(_known_day)]
# What the form saw, as the answer named it; empty: it saw nothing.
Version = Annotated[str, Words(16)]
Name = Annotated[str, Words(80, 1)]
Note = Annotated[str, Words(500)]
CompareDays = Annotated[int, Number("days between comparisons", 7, 1100, whole=True)]
Flow = Annotated[float, Number("liters a minute", 0, 5000)]
Minutes = Annotated[float, Number("minutes", 0.1, 600)]
# What is looked for: words that all stand in what is found.
Find = Annotated[str, Words(80)]
# From which on, counted from 0.
First = Annotated[int, Field(ge=0, le=1_000_000)]
# Of a wheel.
Code = Annotated[str, Words(8, 1)]
Amps = Annotated[float, Number("amperes", 0.1, 500)]
