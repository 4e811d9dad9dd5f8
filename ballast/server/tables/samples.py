"""Sample tables: the standard curve through a made-up maximum, rounded to 5 kg. Not for the road."""

from dataclasses import dataclass

from ballast.core.tables import SAMPLE_STAMP, standard_curve


@dataclass(frozen=True)
class Sample:
    key: str
    line: str
    size: str
    service: str
    load_range: str
    index_single: int
    index_dual: int | None
    max_single_kg: float
    max_dual_kg: float | None
    steps_kpa: tuple[int, ...]
    exponent: float = 0.7

    def loads(self, maximum: float) -> list[float]:
        last = self.steps_kpa[-1]
        return [5.0 * round(standard_curve(maximum, last, self.exponent, p) / 5) for p in self.steps_kpa]

    @property
    def name(self) -> str:
        return f"{self.line} {self.size}"

    @property
    def source(self) -> str:
        return SAMPLE_STAMP


SAMPLES = {
    s.key: s
    for s in (
        Sample(
            "drover-245-70r19.5", "Pellwick Drover", "245/70R19.5", "heavy", "H", 135, 133, 2180, 2060,
            (450, 485, 520, 550, 585, 620, 655, 690, 725, 760),
        ),
        Sample(
            "drover-225-75r16c", "Pellwick Drover", "225/75R16C", "commercial", "", 121, 120, 1450, 1400,
            (250, 280, 310, 340, 370, 400, 430, 460, 490, 525),
        ),
        Sample(
            "carrier-st235-80r16", "Tarnside Carrier", "ST235/80R16", "trailer", "E", 124, 120, 1590, 1400,
            (240, 275, 310, 345, 380, 415, 450, 480, 515, 550),
        ),
        Sample(
            "carrier-st205-75r15", "Tarnside Carrier", "ST205/75R15", "trailer", "D", 107, 102, 970, 850,
            (240, 275, 310, 345, 380, 415, 450),
        ),
        Sample(
            "fell-lt275-70r18", "Ashgrove Fell", "LT275/70R18", "light truck", "E", 125, 122, 1650, 1500,
            (240, 275, 310, 345, 380, 415, 450, 480, 515, 550),
        ),
        Sample(
            "longhaul-295-75r22.5", "Corrin Longhaul", "295/75R22.5", "heavy", "G", 144, 141, 2800, 2575,
            (520, 550, 585, 620, 655, 690, 725, 760),
        ),
        Sample(
            "longhaul-315-80r22.5", "Corrin Longhaul", "315/80R22.5", "heavy", "L", 156, 150, 4000, 3350,
            (550, 585, 620, 655, 690, 725, 760, 795, 825, 860),
        ),
        Sample(
            "wisp-120-70r17", "Larkin Wisp", "120/70R17", "motorcycle", "", 58, None, 236, None,
            (150, 175, 200, 225, 250), 0.65,
        ),
        Sample(
            "wisp-150-80b16", "Larkin Wisp", "150/80B16", "motorcycle", "", 71, None, 345, None,
            (175, 200, 225, 250, 280), 0.65,
        ),
    )
}  # fmt: skip
