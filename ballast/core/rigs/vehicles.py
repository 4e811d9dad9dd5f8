"""A vehicle or trailer as its labels describe it: axles, ratings, wheels and where they are."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from ballast.core.refusal import Refusal
from ballast.core.rigs.outlines import Drawn, drawn
from ballast.core.rigs.sizes import SPEEDS, Size, load_index_kg, unread
from ballast.core.working import Measure, Phrase, kg, plain, say

Row = Literal["single", "dual"]
LIGHT_GVWR_KG = 4536.0

Kind = Literal[
    "coach",
    "motorhome",
    "van",
    "pickup",
    "car",
    "motorcycle",
    "straight_truck",
    "tractor",
    "semitrailer",
    "full_trailer",
    "trailer",
    "camper",
    "fifth_wheel",
]
KINDS: dict[Kind, str] = {
    "coach": "Coach",
    "motorhome": "Motorhome",
    "van": "Van",
    "pickup": "Pickup",
    "car": "Car",
    "motorcycle": "Motorcycle",
    "straight_truck": "Straight truck",
    "tractor": "Tractor",
    "semitrailer": "Semitrailer",
    "full_trailer": "Full trailer",
    "trailer": "Utility trailer",
    "camper": "Caravan or camper",
    "fifth_wheel": "Fifth-wheel",
}


def kind_named(text: str) -> str:
    """The kind that a person spells as the screens do or as files do; what is none of them stays as it is.

    >>> kind_named("straight truck"), kind_named("Utility trailer"), kind_named("sled")
    ('straight_truck', 'trailer', 'sled')
    """
    wanted = " ".join(text.replace("_", " ").lower().split())
    named = {name.lower(): kind for kind, name in KINDS.items()} | {kind.replace("_", " "): kind for kind in KINDS}
    return named.get(wanted, text)


TRAILERS = frozenset({"semitrailer", "full_trailer", "trailer", "camper", "fifth_wheel"})
# Trailers that lay part of their mass on the vehicle in front. A full trailer stands on its own axles.
PULLED = TRAILERS - {"full_trailer"}
# Axles closer than this [m] are one group: a tandem, a tridem.
GROUP_SPACING_M = 2.2
Role = Literal["", "tag", "pusher"]
# Across an axle: a motorcycle has one, duals are four.
Wheels = Literal[1, 2, 4]
ROLES: dict[Role, str] = {"": "Plain", "tag": "Tag, behind the driven one", "pusher": "Pusher, ahead of it"}


_CHECKS = (
    "Fuel at its usual level",
    "Everyone aboard who rides along",
    "What is carried is where it rides",
    "Tires at least at their placard",
)
_LIVING = ("Fresh water at its usual level", "Waste water as it travels", "Gas bottles where they hang")
_TRAILER = ("Hitched level, as it travels", "Weight-distribution bars noted: engaged, slack or none")


def ready_to_roll(kind: str) -> tuple[str, ...]:
    """What to see to before a kind of rig is weighed as it travels; a start, to be edited for each rig."""
    checks = [c for c in _CHECKS if kind not in TRAILERS or not c.startswith(("Fuel", "Everyone"))]
    if kind in ("coach", "motorhome", "camper", "fifth_wheel"):
        checks[1:1] = _LIVING
    if kind in TRAILERS:
        checks[:0] = _TRAILER
    return tuple(checks)


# Tires of which it is not known whether they are a car's are taken as such: the lesser load.
_DIVIDED = ("passenger", "unknown")


def load_divisor(service: str, kind: str) -> float:
    """1.10 for passenger tires on a truck, van, bus, motorhome or trailer, else 1 (49 CFR 571.110 S4.2.2.2)."""
    return 1.10 if service in _DIVIDED and kind not in ("car", "motorcycle") else 1.0


@dataclass(frozen=True)
class Tire:
    """What stands on a tire, its wheel and the placard. Unknown is None. Loads in kg, pressures in kPa."""

    size: Size
    load_index_single: int | None = None
    load_index_dual: int | None = None
    max_load_single_kg: float | None = None
    max_load_dual_kg: float | None = None
    sidewall_max_kpa: float | None = None
    wheel_max_kpa: float | None = None
    wheel_max_load_kg: float | None = None
    placard_kpa: float | None = None
    rim_width_in: float | None = None
    rim_low_in: float | None = None
    rim_high_in: float | None = None
    load_range: str = ""
    # In what a fitted tire is not the one that its axle is described with.
    unlike: tuple[str, ...] = ()
    # Set by `weakest`: every kind of tire on the axle, where there is more than one or another than described.
    mixed: "tuple[Tire, ...]" = ()

    @property
    def range(self) -> str:
        """Its load range, from the marking where it was not entered by itself."""
        return self.load_range or self.size.range

    @property
    def called(self) -> str:
        """Size and load range: what tells the kinds of tires on an axle apart."""
        return f"{self.size.name} {self.range}".strip() or "a tire of unknown size"

    @property
    def kinds(self) -> "tuple[Tire, ...]":
        return self.mixed or (self,)

    def rated_kg(self, row: Row) -> float | None:
        """The load marked for a mounting: the lesser of load index and sidewall load, whichever are known."""
        index, marked = (
            (self.load_index_single, self.max_load_single_kg)
            if row == "single"
            else (self.load_index_dual, self.max_load_dual_kg)
        )
        known = [load_index_kg(index)] if index is not None else []
        known += [marked] if marked is not None else []
        return min(known) if known else None

    def max_kg(self, row: Row, kind: str) -> float | None:
        """The most one tire may carry on a rig of that kind, passenger tires ÷ 1.10 where that applies.

        Of mixed tires the least that is known.
        """
        known = [
            rated / load_divisor(t.size.service, kind) for t in self.kinds if (rated := t.rated_kg(row)) is not None
        ]
        return min(known) if known else None

    def all_rated(self, row: Row) -> bool:
        """Whether the load of every kind of tire on the axle is known."""
        return all(t.rated_kg(row) is not None for t in self.kinds)


_LOADS = ("load_index_single", "load_index_dual", "max_load_single_kg", "max_load_dual_kg")
_MARKS = (*_LOADS, "sidewall_max_kpa", "load_range")
# The same figure printed in two units differs by no more than this.
_PRINTED_TWICE = 0.02


def unlike(fitted: Tire, described: Tire) -> tuple[str, ...]:
    """In what a fitted tire contradicts the one that its axle is described with, in words; empty: in nothing.

    Size, service, load range and load index, as far as both are known; where its load index is not, the sidewall's own
    figures too.
    """
    differing = []
    # The letters of its service are part of a size's name.
    if fitted.size.name and described.size.name and fitted.size.name != described.size.name:
        differing.append(f"size {fitted.size.name}, described {described.size.name}")
    for what, own, other in (
        ("load range", fitted.range, described.range),
        ("load index", fitted.load_index_single, described.load_index_single),
        ("dual load index", fitted.load_index_dual, described.load_index_dual),
    ):
        if own and other and own != other:
            differing.append(f"{what} {own}, described {other}")
    if fitted.load_index_single is None and fitted.load_index_dual is None:
        for words, own_, other_ in (
            ("another sidewall maximum", fitted.sidewall_max_kpa, described.sidewall_max_kpa),
            ("another maximum load", fitted.max_load_single_kg, described.rated_kg("single")),
            ("another maximum dual load", fitted.max_load_dual_kg, described.rated_kg("dual")),
        ):
            if own_ is not None and other_ is not None and abs(own_ - other_) > _PRINTED_TWICE * other_:
                differing.append(f"{words} than described")
    return tuple(differing)


def as_fitted(fitted: Tire, described: Tire) -> Tire:
    """A fitted tire with what its axle's description may fill in: nothing where it contradicts it."""
    if differing := unlike(fitted, described):
        return replace(fitted, unlike=differing)
    return replace(fitted, **{n: getattr(described, n) for n in _MARKS if getattr(fitted, n) in (None, "")})


def weakest(described: Tire, fitted: tuple[Tire, ...], every_wheel: bool = True) -> Tire:
    """An axle's tires as the rules take them: the least that is known of those that are on it.

    `mixed` keeps the kinds apart where size, load range, loads or sidewall differ, or where the one that is fitted is not
    the one described: nothing of the description stands in for it then. Unless `every_wheel` has its fitted tire, the one
    described counts as a kind as well.
    """
    if not fitted:
        return described
    filled = tuple(as_fitted(t, described) for t in fitted)
    if not described.size.name and filled and every_wheel and len({t.size.name for t in filled}) == 1:
        described = replace(described, size=filled[0].size)
    every = filled if filled and every_wheel else (described, *filled)
    kinds = {(t.size.name, t.range, *(getattr(t, n) for n in _MARKS)): t for t in every}

    def least(name: str) -> Any:
        known = [v for t in kinds.values() if (v := getattr(t, name)) is not None]
        return min(known) if known else None

    mixed = tuple(kinds.values()) if len(kinds) > 1 or any(t.unlike for t in every) else ()
    return replace(described, **{n: least(n) for n in (*_LOADS, "sidewall_max_kpa")}, mixed=mixed)


def unlike_words(axle_name: str, tire: Tire, row: Row) -> tuple[Phrase, ...]:
    """That a tire is not the one its axle is described with, and what of it has to be entered."""
    phrases = []
    for kind in tire.kinds:
        if not kind.unlike:
            continue
        missing = [] if kind.rated_kg(row) is not None else [f"{'dual ' if row == 'dual' else ''}load index or load"]
        missing += [] if kind.sidewall_max_kpa is not None else ["sidewall's maximum pressure"]
        asked = f" Enter its {' and '.join(missing)}." if missing else ""
        phrases.append(
            say(
                plain(
                    f"{axle_name}: {kind.called} is fitted and not the tire described ({'; '.join(kind.unlike)}).{asked}"
                )
            )
        )
    return tuple(phrases)


@dataclass(frozen=True)
class Axle:
    """One axle: number from the front, meters behind the first, track [m], tires across it (1, 2 or 4).

    Lengths that nobody measured are None: they are drawn as usual and not computed with.
    `share` is its part of its group's load where the suspension does not share equally. `placard_size`: the size, by name,
    that the placard is for; empty: the one described.
    """

    number: int
    position_m: float | None
    track_m: float | None
    wheels: int
    gawr_kg: float | None = None
    tire: Tire | None = None
    role: Role = ""
    lift: bool = False
    share: float | None = None
    placard_size: str = ""

    @property
    def row(self) -> Row:
        return "dual" if self.wheels == 4 else "single"

    @property
    def tires_per_end(self) -> int:
        return 2 if self.wheels == 4 else 1


def is_light(gvwr_kg: float | None) -> bool:
    """Up to 4,536 kg (10,000 lb) GVWR; unknown counts as heavy, the more careful reading."""
    return gvwr_kg is not None and gvwr_kg <= LIGHT_GVWR_KG


@dataclass(frozen=True)
class Rig:
    """A vehicle or trailer as its labels describe it.

    `hitch_max_kg`: what its hitch (towing) or its coupling (towed) may carry. `hitch_m`: where it tows, behind
    its first axle. `coupler_m`: how far ahead of its first axle it is coupled.
    """

    kind: str
    axles: tuple[Axle, ...]
    gvwr_kg: float | None = None
    wheelbase_m: float | None = None
    gcwr_kg: float | None = None
    hitch_max_kg: float | None = None
    hitch_m: float | None = None
    coupler_m: float | None = None
    top_speed_kmh: float | None = None

    @property
    def light(self) -> bool:
        return is_light(self.gvwr_kg)

    @property
    def small(self) -> bool:
        """A light trailer or a motorcycle."""
        return self.kind == "motorcycle" or (self.light and self.kind in TRAILERS)

    def heavy_or_dual(self, axle: Axle | None) -> bool:
        """Whether tires of one of its axles, or a spare, are for a tire service once they ran low, and keep to their tables
        off the road."""
        return (axle is not None and axle.row == "dual") or not self.light

    @property
    def pulled(self) -> bool:
        """Part of it rides on the vehicle in front."""
        return self.kind in PULLED

    def axle_name(self, number: int) -> str:
        return axle_name(number, len(self.axles), self.kind)

    def unlike_on(self, axle: Axle) -> tuple[Phrase, ...]:
        """What is fitted on one of its axles and is not the tire described, in words."""
        return unlike_words(self.axle_name(axle.number), axle.tire, axle.row) if axle.tire else ()

    @property
    def unlike(self) -> tuple[Phrase, ...]:
        """What is fitted on it and is not the tire described, axle by axle in words."""
        return tuple(words for axle in self.axles for words in self.unlike_on(axle))


@dataclass(frozen=True)
class Group:
    """Axles that carry together, by number, and what they are called."""

    numbers: tuple[int, ...]
    name: str


def places_drawn(kind: str, axles: tuple[Axle, ...]) -> tuple[Drawn, ...]:
    """Where the axles of a rig are drawn, what is not known as usual for its kind."""
    return drawn(kind, tuple((a.position_m, a.track_m, a.wheels) for a in axles))


def groups(axles: tuple[Axle, ...], kind: str = "") -> tuple[Group, ...]:
    """Axle groups from the front: neighbors within 2.2 m, a tag or pusher axle by itself.

    Where nobody measured, the axles that the kind usually has tell which stand together.

    >>> tandem = (Axle(1, 0.0, 2.0, 2), Axle(2, 0.9, 2.0, 2))
    >>> groups(tandem)[0].name
    'tandem'
    """
    grouped: list[list[Axle]] = []
    at = [place.position_m for place in places_drawn(kind, axles)]
    for i, axle in enumerate(axles):
        last = grouped[-1][-1] if grouped else None
        joins = (
            last is not None
            and not axle.role
            and not last.role
            and axle.wheels > 1
            and last.wheels > 1
            and at[i] - at[i - 1] <= GROUP_SPACING_M
        )
        if joins:
            grouped[-1].append(axle)
        else:
            grouped.append([axle])
    names = {1: "single axle", 2: "tandem", 3: "tridem"}
    return tuple(
        Group(tuple(a.number for a in g), g[0].role or names.get(len(g), f"group of {len(g)}")) for g in grouped
    )


def printed_together(axles: tuple[Axle, ...], kind: str) -> tuple[Group, ...]:
    """Axles that a scale's ticket may print as one number: each group, all behind the steering ones, all of a trailer."""
    together = [g for g in groups(axles, kind) if len(g.numbers) > 1]
    behind = tuple(a.number for a in axles if kind in TRAILERS or a.number > 1)
    if len(behind) > 1:
        name = "all its axles" if kind in TRAILERS else "drive axles"
        together = [g for g in together if g.numbers != behind] + [Group(behind, name)]
    return tuple(together)


def looks_for(train: Sequence[str]) -> Literal["front", "trailer"]:
    """What vehicles that hang together, by their kinds, may still be hitched to: a trailer alone looks for what tows it."""
    return "front" if len(train) == 1 and train[0] in TRAILERS else "trailer"


def check_hitching(trailer: tuple[str, str], head: tuple[str, str], behind_itself: bool) -> None:
    """May a rig be hitched into a combination that `head` leads? Both as (kind, name).

    Raises Refusal for what is no trailer, what would tow itself, a combination without a tow vehicle, and a
    motorcycle's limits.
    """
    (kind, name), (head_kind, head_name) = trailer, head
    if kind not in TRAILERS:
        raise Refusal(f"{name} is no trailer: it tows, it is not towed.", "behind")
    if behind_itself:
        raise Refusal(f"{name} would tow itself. Choose a vehicle that is not behind it.", "behind")
    if head_kind in TRAILERS:
        raise Refusal(f"{head_name} has no tow vehicle itself. Hitch it to one first.", "behind")
    if head_kind == "motorcycle" and kind not in ("trailer", "camper"):
        raise Refusal("A motorcycle tows at most a small trailer or camper.", "behind")


def contradictions(rig: Rig) -> list[Refusal]:
    """What cannot be true of a rig, each with its field ("axles.1.position_m")."""
    refusals = [no for i, axle in enumerate(rig.axles) for no in (*_of_place(rig, i, axle), *_of_tire(i, axle))]
    return [*refusals, *_of_whole(rig), *_of_wheelbase(rig)]


def _of_place(rig: Rig, i: int, axle: Axle) -> Iterator[Refusal]:
    ahead = [a.position_m for a in rig.axles[:i] if a.position_m is not None]
    if ahead and axle.position_m is not None and axle.position_m <= max(ahead):
        yield Refusal(
            "Each axle lies behind the one before it. Measure from the first axle again.", f"axles.{i}.position_m"
        )
    if axle.wheels == 1 and rig.kind != "motorcycle":
        yield Refusal("Only a motorcycle has one wheel on an axle. Set two, or four for duals.", f"axles.{i}.wheels")
    if axle.wheels != 1 and rig.kind == "motorcycle" and i == 0 and len(rig.axles) == 2:
        yield Refusal("A motorcycle's front axle has one wheel. Set one.", f"axles.{i}.wheels")


def _of_tire(i: int, axle: Axle) -> Iterator[Refusal]:
    tire = axle.tire
    if tire is None:
        return
    for name, marked, typed in (
        ("load_index_single", tire.size.load_index_single, tire.load_index_single),
        ("load_index_dual", tire.size.load_index_dual, tire.load_index_dual),
    ):
        if marked is not None and typed is not None and marked != typed:
            yield Refusal(
                f"The size marking says {marked}, here it is {typed}. Read the sidewall again.", f"axles.{i}.{name}"
            )
    single, dual = tire.rated_kg("single"), tire.rated_kg("dual")
    if single is not None and dual is not None and dual > single:
        yield Refusal(
            "A dual tire carries no more than a single one. Are the two swapped?", f"axles.{i}.load_index_dual"
        )
    # A placard for another size knows nothing of this sidewall.
    own_placard = axle.placard_size in ("", tire.size.name)
    if (
        own_placard
        and tire.placard_kpa is not None
        and tire.sidewall_max_kpa is not None
        and tire.placard_kpa > tire.sidewall_max_kpa
    ):
        yield Refusal(
            "The placard's pressure is above the sidewall's maximum. Check both labels.", f"axles.{i}.placard_kpa"
        )
    if tire.rim_low_in is not None and tire.rim_high_in is not None and tire.rim_low_in > tire.rim_high_in:
        yield Refusal(
            "The narrowest approved rim is wider than the widest. Are the two swapped?", f"axles.{i}.rim_low_in"
        )


def _of_whole(rig: Rig) -> Iterator[Refusal]:
    tags = [a for a in rig.axles if a.role == "tag"]
    if tags and len(rig.axles) < 3:
        yield Refusal(
            "A tag axle follows a driven one: the rig needs three axles. Leave it plain.",
            f"axles.{tags[0].number - 1}.role",
        )
    if rig.axles and all(a.lift for a in rig.axles):
        yield Refusal("Not every axle can lift. Leave at least one down.", "axles.0.lift")
    if rig.gcwr_kg is not None and rig.gvwr_kg is not None and rig.gcwr_kg < rig.gvwr_kg:
        yield Refusal("The combination's rating is less than the vehicle's own. Check GCWR and GVWR.", "gcwr_kg")
    if rig.kind in TRAILERS and rig.gcwr_kg is not None:
        yield Refusal("A combination's rating stands on the tow vehicle's label. Enter it there.", "gcwr_kg")
    for i, axle in enumerate(rig.axles):
        if axle.lift and i == 0 and rig.kind not in TRAILERS:
            yield Refusal("The front axle steers and cannot lift. Leave it down.", "axles.0.lift")


def _of_wheelbase(rig: Rig) -> Iterator[Refusal]:
    if rig.wheelbase_m is not None and rig.axles:
        last = rig.axles[-1].position_m
        if len(rig.axles) == 1:
            yield Refusal("A wheelbase needs two axles. Leave it out.", "wheelbase_m")
        elif last is None:
            return
        elif len(rig.axles) == 2 and abs(rig.wheelbase_m - last) > 0.05:
            yield Refusal(
                f"The rear axle stands {last:.2f} m behind the front one, so the wheelbase is that. Check both.",
                "wheelbase_m",
            )
        elif rig.wheelbase_m > last + 0.05:
            yield Refusal(
                f"The last axle stands {last:.2f} m behind the first: a wheelbase cannot be longer.", "wheelbase_m"
            )


@dataclass(frozen=True)
class Caution:
    """Something odd, not impossible, beside a field."""

    field: str
    words: Phrase


def cautions(rig: Rig) -> list[Caution]:
    """What to look at again: tires that cannot carry the axle's rating, ratings that do not add up, unknown limits."""
    doubts = [
        c for i, axle in enumerate(rig.axles) if axle.tire for c in _cautions_of(rig, f"axles.{i}", axle, axle.tire)
    ]
    ratings = [a.gawr_kg for a in rig.axles if a.gawr_kg is not None]
    if rig.gvwr_kg and len(ratings) == len(rig.axles) and rig.kind not in TRAILERS and sum(ratings) < rig.gvwr_kg:
        doubts.append(
            Caution("gvwr_kg", say("The axle ratings add up to {0}, less than the gross rating.", kg(sum(ratings))))
        )
    return doubts


def _cautions_of(rig: Rig, at: str, axle: Axle, tire: Tire) -> Iterator[Caution]:
    if not tire.size.text:
        yield Caution(f"{at}.tire_size", say("Its size is not known: no table can be looked up for it."))
    elif words := unread(tire.size.text):
        kept = (
            "It is kept as typed; enter what stands on the sidewall by hand: load index or load, load range, pressure."
        )
        yield Caution(f"{at}.tire_size", say(plain(f"{words} {kept}")))
    most = tire.max_kg(axle.row, rig.kind)
    if most is None or not tire.all_rated(axle.row):
        what = "dual load index" if axle.row == "dual" else "load index"
        yield Caution(
            f"{at}.load_index_{axle.row}",
            say(f"The {what} is not known: the tires' own limit cannot be checked."),
        )
    elif axle.gawr_kg is not None and most * axle.wheels < axle.gawr_kg:
        yield Caution(
            f"{at}.gawr_kg",
            say("These tires carry {0} together, less than the axle's rating.", kg(most * axle.wheels)),
        )
    if tire.size.service == "passenger" and load_divisor("passenger", rig.kind) != 1.0:
        yield Caution(f"{at}.tire_size", say("Passenger tires on this kind of rig carry less: rated load ÷ 1.10."))
    rim, low, high = tire.rim_width_in, tire.rim_low_in, tire.rim_high_in
    if rim is not None and ((low is not None and rim < low) or (high is not None and rim > high)):
        what = "narrow: the tire crowns" if low is not None and rim < low else "wide: the tire is stretched flat"
        yield Caution(f"{at}.rim_width_in", say(f"The rim is too {what}. Fit one of the approved widths."))
    speed = tire.size.speed
    if rig.top_speed_kmh is not None and speed is not None and SPEEDS[speed] < rig.top_speed_kmh:
        yield Caution(
            f"{at}.tire_size",
            say(
                f"Symbol {speed} holds up to {{0}}, this rig is driven at {{1}}.",
                Measure("speed", SPEEDS[speed], "down"),
                Measure("speed", rig.top_speed_kmh),
            ),
        )
    if tire.sidewall_max_kpa is None:
        yield Caution(
            f"{at}.sidewall_max_kpa",
            say("Without the sidewall's maximum the table's last column stands in as ceiling."),
        )


@dataclass(frozen=True)
class Wheel:
    """A place for a tire. `code` is short (2Li), `name` is spoken (rear left, inner). Axle None: a spare."""

    code: str
    name: str
    axle: int | None
    side: Literal["L", "R", "C"] | None
    inner: bool = False


def axle_at(code: str) -> int | None:
    """The number of the axle that a wheel of a rig's own code stands on; None: a spare.

    >>> axle_at("2Li"), axle_at("S1")
    (2, None)
    """
    return int(code[0]) if code[:1].isdigit() else None


def axle_name(number: int, count: int, kind: str) -> str:
    """What people call an axle: front and rear where there are two, by number where there are more."""
    if count == 1:
        return "Axle"
    if count == 2:
        return "Front" if number == 1 else "Rear"
    if number == 1 and kind not in TRAILERS:
        return "Front"
    return f"Axle {number}"


MOST_AXLES = 9


def axle_titles(kind: str) -> list[list[str]]:
    """The axles of a rig of a kind as they are headed, for one axle, for two, and so on.

    >>> axle_titles("coach")[:3]
    [['Axle'], ['Front axle', 'Rear axle'], ['Front axle', 'Axle 2', 'Axle 3']]
    """

    def title(name: str) -> str:
        return name if name.startswith("Axle") else f"{name} axle"

    return [
        [title(axle_name(n, count, kind)) for n in range(1, count + 1)] for count in range(1, MOST_AXLES + 1)
    ]  # fmt: skip


def walking_order(axles: tuple[Axle, ...], kind: str, spares: int = 0) -> tuple[Wheel, ...]:
    """Every wheel in the order of a walk around the rig: down the left side, up the right, then the spares."""
    count = len(axles)
    left: list[Wheel] = []
    right: list[Wheel] = []
    for axle in sorted(axles, key=lambda a: a.number):
        name = axle_name(axle.number, count, kind)
        if axle.wheels == 1:
            left.append(Wheel(f"{axle.number}", name, axle.number, "C"))
            continue
        for side, word, wheels in (("L", "left", left), ("R", "right", right)):
            spoken = f"{name} {word}" if count > 1 else word.capitalize()
            code = f"{axle.number}{side}"
            if axle.row == "dual":
                wheels.append(Wheel(f"{code}o", f"{spoken}, outer", axle.number, side))  # type: ignore[arg-type]
                wheels.append(Wheel(f"{code}i", f"{spoken}, inner", axle.number, side, True))  # type: ignore[arg-type]
            else:
                wheels.append(Wheel(code, spoken, axle.number, side))  # type: ignore[arg-type]
    # Up the right side the rear axle comes first, and its outer tire before the inner.
    back = sorted(right, key=lambda w: -(w.axle or 0))
    hung = [Wheel(f"S{i + 1}", "Spare" if spares == 1 else f"Spare {i + 1}", None, None) for i in range(spares)]
    return (*left, *back, *hung)
