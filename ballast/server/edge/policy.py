"""The names of the ways in which targets are chosen and kept, as they go over the wire."""

from typing import Literal

from ballast.core.air import TemperaturePolicy
from ballast.core.targets import Between, Chosen, School, State

StepName = Literal["1 psi", "5 psi", "5 kPa", "0.1 bar"]
SchoolName = Chosen
FlagName = School
BetweenName = Between
TemperatureName = TemperaturePolicy
StateName = State

__all__ = ["BetweenName", "FlagName", "SchoolName", "StateName", "StepName", "TemperatureName"]
