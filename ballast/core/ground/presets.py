"""A set of preset deflators in a plan: on which wheels and stretches it is used, what it leaves in them, how long it takes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ballast.core.gauges import Deflators, deflators_refused
from ballast.core.ground.numbers import GroundWheel
from ballast.core.ground.plan import Step, WheelJob
from ballast.core.ground.way import Down, Timed, all_down
from ballast.core.refusal import Refusal
from ballast.core.working import Phrase, plain, say

SLOW_AT_END = "Deflators are slow at the end: read each tire after."


@dataclass(frozen=True)
class Preset:
    """A set as it is set: for a role and a surface; empty: for any."""

    of: Deflators
    role: str = ""
    surface: str = ""

    def lets_out(self, step: Step, wheels: Mapping[str, GroundWheel]) -> tuple[WheelJob, ...]:
        """The jobs of a step in which it lets air out."""
        if self.surface not in ("", step.surface.key):
            return ()
        return tuple(j for j in step.jobs if j.change_kpa < 0 and self.role in ("", wheels[j.code].role))


def check_preset(preset: Preset, steps: Sequence[Step], wheels: Mapping[str, GroundWheel]) -> None:
    """Raises Refusal where a set may close below the floor of a tire that it lets out."""
    floors = [j.number.floor_kpa for s in steps for j in preset.lets_out(s, wheels)]
    if floors and (why := deflators_refused(preset.of, max(floors))) is not None:
        raise Refusal(why.in_both(), "deflators")


def preset_notes(preset: Preset, steps: Sequence[Step], wheels: Mapping[str, GroundWheel]) -> tuple[Phrase, ...]:
    """What is to be said of a set: that nothing is let out with it, or which tires it leaves above or below their number."""
    jobs = [j for s in steps for j in preset.lets_out(s, wheels)]
    label = plain(preset.of.label)
    if not jobs:
        return (say(f"{label} is set for other wheels or another surface: nothing here is let out with it."),)
    notes = [say(SLOW_AT_END)]
    above: set[str] = set()
    below: set[str] = set()
    for j in jobs:
        beyond = preset.of.closes_kpa - j.number.kpa
        if abs(beyond) > preset.of.within_kpa:
            (above if beyond > 0 else below).add(wheels[j.code].name)
    if above:
        notes.append(
            say(f"{label} closes above the number of {plain(', '.join(sorted(above)))}: the rest by the valve.")
        )
    if below:
        notes.append(
            say(f"{label} closes below the number of {plain(', '.join(sorted(below)))}: take it off at the number.")
        )
    return tuple(notes)


def step_down(
    step: Step, wheels: Mapping[str, GroundWheel], timed: tuple[float, float | None] | None, outside_kpa: float,
    preset: Preset | None = None,
) -> Down | None:  # fmt: skip
    """Minutes to let out for a step: with the set so many at once, by the valve one after the other.

    `timed`: how fast the valve of one tire passes air [1/min], and that tire's volume [L]. None: nothing is let out, or
    nothing was timed yet.
    """
    out = [j for j in step.jobs if j.change_kpa < 0]
    if not out or timed is None:
        return None
    by_set = preset.lets_out(step, wheels) if preset else ()
    groups = ((by_set, preset.of.count if preset else 1), ([j for j in out if j not in by_set], 1))
    minutes, at_least = 0.0, False
    for jobs, at_once in groups:
        tires = [Timed(j.from_kpa, j.number.kpa, wheels[j.code].volume_l) for j in jobs]
        down = all_down(tires, timed[0], timed[1], outside_kpa, at_once)
        minutes, at_least = minutes + down.minutes, at_least or down.at_least
    return Down(minutes, at_least)
