"""The rigs of the demo world, as their labels and sidewalls would say. All of it is made up."""

from typing import Any

_DROVER = {
    "tire_size": "245/70R19.5 135/133M", "tire_make": "Pellwick Drover", "load_range": "H", "sidewall_max_kpa": "760 kPa",
    "wheel_max_kpa": "830 kPa",
}  # fmt: skip
_VAN = {
    "tire_size": "225/75R16C 121/120R", "tire_make": "Pellwick Drover", "sidewall_max_kpa": "525 kPa", "rim_width_in": 6.5,
    "rim_low_in": 6, "rim_high_in": 7,
}  # fmt: skip
_CARRIER_16 = {
    "tire_size": "ST235/80R16 124/120M E", "tire_make": "Tarnside Carrier", "sidewall_max_kpa": "550 kPa",
    "wheel_max_kpa": "760 kPa", "wheel_max_load_kg": "1590 kg",
}  # fmt: skip
_CARRIER_15 = {
    "tire_size": "ST205/75R15 107/102M D", "tire_make": "Tarnside Carrier", "sidewall_max_kpa": "450 kPa",
}  # fmt: skip
_FELL = {"tire_size": "LT275/70R18 125/122S E", "tire_make": "Ashgrove Fell", "sidewall_max_kpa": "550 kPa"}
_LONGHAUL = {
    "tire_size": "295/75R22.5 144/141L G", "tire_make": "Corrin Longhaul", "sidewall_max_kpa": "760 kPa",
    "wheel_max_kpa": "830 kPa",
}  # fmt: skip
_LONGHAUL_WIDE = {
    "tire_size": "315/80R22.5 156/150L L", "tire_make": "Corrin Longhaul", "sidewall_max_kpa": "860 kPa",
    "wheel_max_kpa": "900 kPa",
}  # fmt: skip

COACH: dict[str, Any] = {
    "kind": "coach", "name": "Almagest", "fleet_number": "CF-01", "gvwr_kg": "11800 kg", "gcwr_kg": "15600 kg",
    "hitch_max_kg": "450 kg", "cargo_kg": "2600 kg", "wheelbase_m": "6.1 m", "hitch_m": "8 m", "top_speed_kmh": "105 km/h",
    "note": "Observatory coach. The instrument rack rides over the right rear.",
    "axles": [
        {**_DROVER, "position_m": 0, "track_m": "2.08 m", "gawr_kg": "4200 kg", "placard_kpa": "85 psi"},
        {**_DROVER, "position_m": "6.1 m", "track_m": "1.85 m", "dual": True, "gawr_kg": "7600 kg", "placard_kpa": "93 psi"},
    ],
    "spares": [{**_DROVER, "required_kpa": "100 psi"}],
}  # fmt: skip
PERIGEE: dict[str, Any] = {
    "kind": "trailer", "name": "Perigee", "fleet_number": "CF-02", "gvwr_kg": "3600 kg", "hitch_max_kg": "360 kg",
    "coupler_m": "4.4 m", "replace_years": 6, "note": "Telescope trailer.",
    "axles": [
        {**_CARRIER_16, "position_m": x, "track_m": "2.05 m", "gawr_kg": "1800 kg", "placard_kpa": "480 kPa"}
        for x in ("0 m", "0.92 m")
    ],
    "spares": [{**_CARRIER_16, "required_kpa": "515 kPa"}],
}  # fmt: skip
SYZYGY: dict[str, Any] = {
    "kind": "tractor", "name": "Syzygy", "fleet_number": "CF-03", "gvwr_kg": "23600 kg", "gcwr_kg": "36200 kg",
    "hitch_max_kg": "15800 kg", "hitch_m": "4.7 m", "top_speed_kmh": "105 km/h",
    "axles": [
        {**_LONGHAUL, "position_m": 0, "track_m": "2.08 m", "gawr_kg": "5400 kg", "placard_kpa": "110 psi"},
        {**_LONGHAUL, "position_m": "4.2 m", "track_m": "1.85 m", "dual": True, "gawr_kg": "9100 kg", "placard_kpa": "100 psi"},
        {**_LONGHAUL, "position_m": "5.5 m", "track_m": "1.85 m", "dual": True, "gawr_kg": "9100 kg", "placard_kpa": "100 psi"},
    ],
}  # fmt: skip
BIG_DOME: dict[str, Any] = {
    "kind": "semitrailer", "name": "Big Dome", "fleet_number": "CF-04", "gvwr_kg": "29500 kg", "hitch_max_kg": "15800 kg",
    "coupler_m": "9.4 m",
    "axles": [
        {**_LONGHAUL, "position_m": x, "track_m": "1.85 m", "dual": True, "gawr_kg": "9000 kg", "placard_kpa": "100 psi"}
        for x in ("0 m", "1.3 m")
    ],
}  # fmt: skip
VAN: dict[str, Any] = {
    "kind": "van", "name": "Gibbous", "fleet_number": "CF-05", "gvwr_kg": "3500 kg", "wheelbase_m": "3.67 m",
    "cargo_kg": "1150 kg", "top_speed_kmh": "120 km/h", "note": "Crew van, dialled by car people.",
    "axles": [
        {**_VAN, "position_m": 0, "track_m": "1.74 m", "gawr_kg": "1750 kg", "placard_kpa": "3.6 bar",
         "placard_light_kpa": "3.2 bar"},
        {**_VAN, "position_m": "3.67 m", "track_m": "1.72 m", "gawr_kg": "2200 kg", "placard_kpa": "4.5 bar",
         "placard_light_kpa": "3.4 bar"},
    ],
    "spares": [{**_VAN, "required_kpa": "4.5 bar"}],
}  # fmt: skip
PICKUP: dict[str, Any] = {
    "kind": "pickup", "name": "Umbra", "fleet_number": "CF-06", "gvwr_kg": "4100 kg", "gcwr_kg": "7900 kg",
    "hitch_max_kg": "320 kg", "wheelbase_m": "3.75 m", "hitch_m": "4.95 m", "cargo_kg": "1300 kg", "top_speed_kmh": "120 km/h",
    "axles": [
        {**_FELL, "position_m": 0, "track_m": "1.74 m", "gawr_kg": "1950 kg", "placard_kpa": "45 psi"},
        {**_FELL, "position_m": "3.75 m", "track_m": "1.74 m", "gawr_kg": "2450 kg", "placard_kpa": "55 psi"},
    ],
    "spares": [{**_FELL, "required_kpa": "60 psi"}],
}  # fmt: skip
PENUMBRA: dict[str, Any] = {
    "kind": "trailer", "name": "Penumbra", "fleet_number": "CF-07", "gvwr_kg": "1700 kg", "hitch_max_kg": "250 kg",
    "coupler_m": "2.9 m", "note": "Off-road trailer, on the pickup's size.",
    "axles": [{**_FELL, "position_m": 0, "track_m": "1.74 m", "gawr_kg": "1600 kg", "placard_kpa": "35 psi"}],
    "spares": [{**_FELL, "required_kpa": "45 psi"}],
}  # fmt: skip
ANALEMMA: dict[str, Any] = {
    "kind": "coach", "name": "Analemma", "fleet_number": "CF-08", "gvwr_kg": "24500 kg", "top_speed_kmh": "105 km/h",
    "axles": [
        {**_LONGHAUL_WIDE, "position_m": 0, "track_m": "2.1 m", "gawr_kg": "7500 kg", "placard_kpa": "115 psi"},
        {**_LONGHAUL_WIDE, "position_m": "6.3 m", "track_m": "1.86 m", "dual": True, "gawr_kg": "11500 kg",
         "placard_kpa": "100 psi"},
        {**_LONGHAUL_WIDE, "position_m": "7.7 m", "track_m": "2.1 m", "role": "tag", "lift": True, "share": 0.33,
         "gawr_kg": "6300 kg", "placard_kpa": "100 psi"},
    ],
    "spares": [{**_LONGHAUL_WIDE, "required_kpa": "115 psi"}],
}  # fmt: skip
MOTORCYCLE: dict[str, Any] = {
    "kind": "motorcycle", "name": "Parsec", "fleet_number": "CF-09", "gvwr_kg": "430 kg", "wheelbase_m": "1.52 m",
    "note": "Rides ahead.",
    "axles": [
        {
            "tire_size": "120/70R17 58W", "tire_make": "Larkin Wisp", "sidewall_max_kpa": "290 kPa", "position_m": 0,
            "track_m": "0.2 m", "wheels": 1, "gawr_kg": "180 kg", "placard_kpa": "33 psi",
        },
        {
            "tire_size": "150/80B16 71H", "tire_make": "Larkin Wisp", "sidewall_max_kpa": "290 kPa",
            "position_m": "1.52 m", "track_m": "0.2 m", "wheels": 1, "gawr_kg": "270 kg", "placard_kpa": "38 psi",
        },
    ],
}  # fmt: skip
FLATBED: dict[str, Any] = {
    "kind": "straight_truck", "name": "Old Parallax", "fleet_number": "CF-10", "gvwr_kg": "11300 kg", "wheelbase_m": "4.9 m",
    "note": "Flatbed. Carries what nothing else will.",
    "axles": [
        {**_DROVER, "position_m": 0, "track_m": "2.05 m", "gawr_kg": "4200 kg", "placard_kpa": "90 psi"},
        {**_DROVER, "position_m": "4.9 m", "track_m": "1.85 m", "dual": True, "gawr_kg": "7200 kg", "placard_kpa": "100 psi"},
    ],
}  # fmt: skip
CAMPER: dict[str, Any] = {
    "kind": "camper", "name": "Pipistrelle", "gvwr_kg": "1600 kg", "hitch_max_kg": "150 kg", "coupler_m": "3.6 m",
    "note": "Weekends only.",
    "axles": [{**_CARRIER_15, "position_m": 0, "track_m": "1.9 m", "gawr_kg": "1500 kg", "placard_kpa": "430 kPa"}],
    "spares": [{**_CARRIER_15, "required_kpa": "450 kPa"}],
}  # fmt: skip

_WREN = {"tire_size": "195/65R15 91T", "tire_make": "Larkin Wren", "sidewall_max_kpa": "300 kPa"}
NOCTULE: dict[str, Any] = {
    "kind": "car", "name": "Noctule", "gvwr_kg": "1720 kg", "wheelbase_m": "2.6 m", "cargo_kg": "430 kg",
    "note": "Never weighed.",
    "axles": [
        {**_WREN, "position_m": 0, "track_m": "1.5 m", "gawr_kg": "880 kg", "placard_kpa": "2.4 bar", "placard_light_kpa": "2.1 bar"},
        {**_WREN, "position_m": "2.6 m", "track_m": "1.5 m", "gawr_kg": "900 kg", "placard_kpa": "2.7 bar",
         "placard_light_kpa": "2.1 bar"},
    ],
    "spares": [{"tire_size": "T125/80R15 95M", "tire_make": "Larkin Wren", "required_kpa": "4.2 bar"}],
}  # fmt: skip
# Its rounds: how many days ago, and how cold it was outside [°C]; what its display shows beside the truth [kPa].
NOCTULE_READ = ((96, 16.0), (75, 12.0), (54, 10.0), (33, 7.0), (12, 4.0))
DISPLAY_KPA = -11.0

# What each was weighed at. "guided": the guide's passes of that way in order, in kg.
WEIGHED: dict[str, list[dict[str, Any]]] = {
    "CF-01": [
        {"months": 14, "scale": "Tarn Hollow wheel pads", "resolution_kg": "10 kg", "odometer": "76200 km",
         "note": "Tanks two thirds, crew of three", "axles": [{"left_kg": "1640 kg", "right_kg": "1630 kg"},
                                                              {"left_kg": "3080 kg", "right_kg": "3230 kg"}]},
        {"scale": "Tarn Hollow grain scale", "resolution_kg": "10 kg", "way": "left", "with_trailers": True, "bars": "slack",
         "odometer": "84900 km", "note": "Tanks two thirds, crew of three, instrument rack aboard",
         "guided": [3390, 9960, 11610, 13220, 1690, 4850, 5670, 6480, 9750, 3470]},
    ],
    "CF-03": [
        {"scale": "Tarn Hollow axle scale", "resolution_kg": "20 kg", "way": "axles", "with_trailers": True,
         "odometer": "412600 km", "note": "Dome aboard",
         "guided": [4860, 7720, 7640, 6980, 6940, 4700, 3960, 3900, 21580]},
    ],
    "CF-05": [
        {"scale": "Tarn Hollow grain scale", "resolution_kg": "20 kg", "way": "passes", "odometer": "98100 km",
         "note": "Five aboard, tools in the back", "guided": [1460, 3220]},
    ],
    "CF-06": [
        {"scale": "Tarn Hollow wheel pads", "resolution_kg": "10 kg", "way": "pads", "with_trailers": True, "bars": "slack",
         "odometer": "61300 km", "note": "Water and spares in the trailer",
         "guided": [790, 780, 960, 990, 620, 650, 1660, 1650, 1450]},
    ],
    "CF-08": [
        {"months": 15, "scale": "Quill Dunes truck scale", "resolution_kg": "20 kg", "odometer": "188400 km",
         "note": "Full tanks, tag axle down",
         "axles": [{"left_kg": "3360 kg", "right_kg": "3300 kg"}, {"left_kg": "5060 kg", "right_kg": "5180 kg"},
                   {"left_kg": "2520 kg", "right_kg": "2560 kg"}]},
    ],
    "CF-09": [
        {"scale": "Tarn Hollow wheel pads", "resolution_kg": "1 kg", "note": "Rider and both bags",
         "axles": [{"whole_kg": "168 kg"}, {"whole_kg": "236 kg"}]},
    ],
    "CF-10": [
        {"scale": "Tarn Hollow wheel pads", "resolution_kg": "10 kg", "odometer": "233800 km", "note": "Mount and pier aboard",
         "axles": [{"left_kg": "1890 kg", "right_kg": "1920 kg"}, {"left_kg": "3590 kg", "right_kg": "3670 kg"}]},
        {"load_state": "pier and ballast", "scale": "Tarn Hollow wheel pads", "resolution_kg": "10 kg",
         "note": "All of the ballast on the bed, once",
         "axles": [{"left_kg": "1980 kg", "right_kg": "2010 kg"}, {"left_kg": "4210 kg", "right_kg": "4290 kg"}]},
    ],
}  # fmt: skip

# Made in which year before now, by rig; single wheels apart from the rest in `OTHER`.
AGE_YEARS = {
    "CF-01": 2.4, "CF-02": 3.1, "CF-03": 1.2, "CF-04": 2.0, "CF-05": 1.6, "CF-06": 2.2, "CF-07": 4.0, "CF-08": 3.4, "CF-09": 1.1,
    "CF-10": 4.6, "Noctule": 3.8,
}  # fmt: skip
OTHER: dict[tuple[str, str], dict[str, Any]] = {
    ("CF-02", "S1"): {"age": 8.3},  # the spare that nobody checks
    ("CF-08", "S1"): {"age": 10.6},
    ("CF-04", "2Lo"): {"diameter": "1013 mm"},
    ("CF-04", "2Li"): {"diameter": "1004 mm"},  # a pair that disagrees
    ("CF-05", "2R"): {"make": "Ashgrove Fell", "age": 0.4},
    ("CF-10", "1L"): {"age": 5.4},
    ("CF-01", "2Ri"): {"sensor": "K-41"},
}

# The coach's next tour, a place each night: beyond the forecast it is typed.
TOUR: list[dict[str, Any]] = [
    {"place_key": "ember-lake"},
    {"place_key": "saltgrass-flat"},
    {"place_key": "marrow-pass"},
    {"place_key": "quill-dunes"},
]

# A small battery one that stalls early, a 12-volt one with its maker's points and rests, the depot's tank.
INFLATORS: tuple[dict[str, Any], ...] = (
    {"label": "I1", "supply": "battery", "max_kpa": "480 kPa", "free_l_min": 18, "hose_loss_kpa": "3 kPa", "on_min": 8,
     "rest_min": 20},
    {"label": "I2", "supply": "clamps", "max_kpa": "850 kPa", "hose_loss_kpa": "6 kPa", "settling_kpa": "4 kPa", "on_min": 20,
     "rest_min": 15, "draws_a": 32, "points": [{"pressure": "0 kPa", "flow": 90}, {"pressure": "300 kPa", "flow": 58},
                                               {"pressure": "600 kPa", "flow": 31}, {"pressure": "850 kPa", "flow": 6}]},
    {"label": "Depot tank", "supply": "tank", "max_kpa": "1000 kPa", "free_l_min": 320, "hose_loss_kpa": "4 kPa",
     "tank_l": "270 L"},
)  # fmt: skip


def guest_night(coach: int) -> dict[str, Any]:
    """Six guests and a filled tank, worked out and not weighed."""
    return {
        "load_state": "guest night",
        "bars": "slack",
        "placed": [
            {"what": "people", "label": "Six guests", "mass": "480 kg", "rig": coach, "x": 3.2, "y": 0},
            {"what": "water", "label": "Tank filled", "liters": "120 L", "rig": coach, "x": 5.4, "y": -0.5},
        ],
    }
