"""What nobody has read of a rig yet, and what reading it would give."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from ballast.core.refusal import Refusal
from ballast.core.rigs.vehicles import TRAILERS, Axle, Rig, axle_titles

# Where on a rig something is read: its label, an axle's tires, the spare, along its side with a tape measure.
_LABEL, _SPARE, _TAPE = "label", "spare", "tape"


@dataclass(frozen=True)
class Missing:
    """Something unread: the place where it stands ("axles.1"), what it is, and what it would give."""

    place: str
    name: str
    gives: str


PLACARD = Missing(_LABEL, "placard pressure", "the pressure to keep until it is weighed")
GAWR = Missing(_LABEL, "axle rating, GAWR", "whether the axle is over, and what is enough before it is weighed")


def must_have(rig: Rig, name: str) -> list[Refusal]:
    """What a rig cannot be kept without, each with its field: a name, and the size of one axle's tires at least."""
    wrong = [] if name else [Refusal("A rig needs a name.", "name")]
    if not any(a.tire and a.tire.size.text for a in rig.axles):
        wrong.append(
            Refusal(
                "A rig needs the size of one axle's tires at least, as it stands on the sidewall.", "axles.0.tire_size"
            )
        )
    return wrong


def _listed(names: list[str]) -> str:
    head = ", ".join(names[:-1])
    return f"{head} and {names[-1]}" if head else names[-1]


def _of_axles(rig: Rig) -> Iterator[Missing]:
    titles = axle_titles(rig.kind)[len(rig.axles) - 1]
    asked: tuple[tuple[str, str, str, Callable[[Axle], bool]], ...] = (
        ("", "size on the sidewall", "a table to look the load up in", lambda a: not (a.tire and a.tire.size.text)),
        (GAWR.place, GAWR.name, GAWR.gives, lambda a: a.gawr_kg is None),
        (PLACARD.place, PLACARD.name, PLACARD.gives, lambda a: a.tire is None or a.tire.placard_kpa is None),
        ("", "load index or load", "what a tire may carry", lambda a: a.tire is None or a.tire.rated_kg(a.row) is None),
        ("", "sidewall maximum", "the ceiling: without it a table's last column stands in, or there is none",
         lambda a: a.tire is None or a.tire.sidewall_max_kpa is None),
        ("", "wheel's rated pressure", "a lower ceiling, if the wheel is weaker than the tire",
         lambda a: a.tire is None or a.tire.wheel_max_kpa is None),
    )  # fmt: skip
    for place, name, gives, lacks in asked:
        unread = [i for i, a in enumerate(rig.axles) if lacks(a)]
        if unread:
            at = "" if len(unread) == len(rig.axles) else f": {_listed([titles[i].lower() for i in unread])}"
            yield Missing(place or f"axles.{unread[0]}", name[0].upper() + name[1:] + at, gives)


def missing(rig: Rig, spares_kpa: tuple[float | None, ...]) -> tuple[Missing, ...]:
    """What is unread of a rig, what would help most first. `spares_kpa`: what each spare is to hold, None where unknown."""
    whole = []
    if rig.gvwr_kg is None:
        whole.append(
            Missing(_LABEL, "Gross rating, GVWR", "whether the whole is over; until then it is judged as a heavy rig")
        )
    if not spares_kpa and rig.kind != "motorcycle":
        whole.append(Missing(_SPARE, "Spare", "its own pressure: it is the one that is forgotten"))
    elif None in spares_kpa:
        whole.append(Missing(_SPARE, "The spare's required pressure", "what it has to hold before it is needed"))
    lengths = [a.position_m for a in rig.axles[1:]] + [a.track_m for a in rig.axles if a.wheels > 1]
    if None in lengths or (rig.pulled and rig.coupler_m is None):
        named = "Spacing, track and coupling" if rig.pulled else "Spacing and track"
        gives = "what cargo, water and people do to each axle; until then it is drawn as usual"
        whole.append(Missing(_TAPE, named, gives))
    if rig.kind not in TRAILERS and rig.kind != "motorcycle" and rig.hitch_max_kg is None and rig.hitch_m is not None:
        whole.append(Missing(_LABEL, "Hitch limit", "whether a trailer lays too much on it"))
    axles = list(_of_axles(rig))
    return (*axles[:1], *whole[:1], *axles[1:], *whole[1:]) if axles else tuple(whole)
