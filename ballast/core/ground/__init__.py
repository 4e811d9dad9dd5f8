"""Off the road and back: `surfaces` (shares, speeds, floors), `numbers` (a wheel's pressure there), `plan` (a chain of
stretches), `way` (minutes down and back up), `open` (a plan that is open), `places` (what was learned), `kit`, `valves`.
"""

from ballast.core.ground.kit import KIT_KINDS, KitItem, KitKind, Use, lacking
from ballast.core.ground.numbers import (
    WARMTHS,
    AsItIs,
    Footprint,
    GroundWheel,
    MakersWord,
    Meets,
    Number,
    Warmth,
    by_surface,
    fill_up_to,
    footprint,
    ground_kpa,
    in_tire,
    let_out_to,
    numbers,
    numbers_all,
    road_bound,
    role_of,
)
from ballast.core.ground.open import (
    BESIDE_NUMBER,
    Around,
    Beside,
    Bounds,
    Checked,
    Done,
    Entry,
    Open,
    Stretch,
    beside,
    bounds,
    changes_at,
    loud,
    open_words,
    reading_words,
    still_open,
)
from ballast.core.ground.places import OUTCOMES, Learned, Outcome, Proposal, learned_at, proposal
from ballast.core.ground.plan import Plan, Step, Wanted, WheelJob, check_chain, order, plan, refused
from ballast.core.ground.presets import Preset, check_preset, preset_notes, step_down
from ballast.core.ground.surfaces import (
    GROUND_ROLES,
    HIGHWAY,
    PATTERNS,
    PRACTICE,
    SHIPPED,
    ByRole,
    GroundRole,
    Pattern,
    Surface,
    check_surfaces,
    speed_cap,
)
from ballast.core.ground.valves import Stem, Valve, valve_words
from ballast.core.ground.way import (
    Back,
    Down,
    Timed,
    all_down,
    back_words,
    best_back,
    learned_k,
    let_down,
    scaled_k,
    way_back,
)

__all__ = [
    "BESIDE_NUMBER", "GROUND_ROLES", "HIGHWAY", "KIT_KINDS", "OUTCOMES", "PATTERNS", "PRACTICE", "SHIPPED", "WARMTHS", "Around", "AsItIs", "Back", "Beside", "Bounds", "ByRole", "Checked",
    "Done", "Down", "Entry", "Footprint", "GroundRole", "GroundWheel", "KitItem", "KitKind", "Learned", "MakersWord",
    "Meets", "Number", "Open", "Outcome", "Pattern", "Plan", "Preset", "Proposal", "Stem", "Step", "Stretch", "Surface", "Timed", "Use", "Valve", "Wanted", "Warmth",
    "WheelJob", "all_down", "back_words", "beside", "best_back", "bounds", "by_surface", "changes_at", "check_chain", "check_preset", "check_surfaces",
    "fill_up_to", "footprint", "ground_kpa", "in_tire", "lacking", "learned_at", "learned_k", "let_down", "let_out_to", "loud", "numbers", "numbers_all", "open_words", "order", "plan", "preset_notes",
    "proposal", "reading_words", "refused", "road_bound", "role_of", "scaled_k", "speed_cap", "step_down", "still_open", "valve_words", "way_back",
]  # fmt: skip
