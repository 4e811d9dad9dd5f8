import pytest

from ballast.core.gas import Air, carry
from ballast.core.lookback import Circumstances, Split, Step, split
from ballast.core.units import PSI_KPA

THEN, NOW = Air(22, 410), Air(5, 410)
# A steer axle at 240 kPa and duals at 690, in walking order.
WHEELS = (("1L", -1, 240), ("2Lo", -1, 690), ("2Li", -1, 690), ("2Ri", 1, 690), ("2Ro", 1, 690), ("1R", 1, 240))


def round_(
    more: dict[str, float] | None = None, *, now: Air = NOW, typed: Air | None = None, all_kpa: float = 0.0,
    known: Circumstances | None = None,
) -> Split:  # fmt: skip
    """A week between two rounds with no loss but the usual, by gas law; `more` is what a wheel reads beside [kPa]."""
    steps = []
    for name, side, kpa in WHEELS:
        found = carry(kpa * (1 - 0.015 * 7 / 30), THEN, now) + (more or {}).get(name, 0.0) + all_kpa
        steps.append(Step(name, kpa, THEN, found, typed or now, 7.0, side=side))
    return split(tuple(steps), known)


def said(found: Split) -> str:
    return " | ".join(w.show("metric") for w in found.words)


def test_a_cold_week_is_weather_alone() -> None:
    found = round_()
    assert found.shared == pytest.approx(0, abs=1e-3)
    part = {p.name: p for p in found.parts}["2Li"]
    # (690 + 96.496) × 278.15/295.15 − 96.496 − 690 = −45.30; usual 1.5 % × 7/30 of 640 = −2.24.
    assert part.weather_kpa == pytest.approx(-45.30, abs=0.01)
    assert part.usual_kpa == pytest.approx(-2.24, abs=0.03)
    assert part.own_kpa == pytest.approx(0, abs=0.2)
    assert part.changed_kpa == pytest.approx(part.weather_kpa + part.usual_kpa + part.shared_kpa + part.own_kpa)
    assert not any(p.stands_out for p in found.parts)
    assert said(found).startswith("The air took 45 kPa off every tire since (22 °C then, 5 °C now)")
    assert "stayed as they were. | No tire stands out" in said(found)


def test_one_tire_down_alone() -> None:
    found = round_({"2Li": -21.0})
    assert [p.name for p in found.parts if p.stands_out] == ["2Li"]
    assert {p.name: p for p in found.parts}["2Li"].own_kpa == pytest.approx(-21, abs=0.3)
    assert "2Li alone is 21 kPa lower than the others" in said(found)
    assert "a leak until shown otherwise" in said(found)


def test_air_that_nobody_wrote_down() -> None:
    assert "1R alone is 30 kPa higher: air was added unrecorded" in said(round_({"1R": 30}))


def test_a_wrong_temperature() -> None:
    # It was 5 °C and 25 °C was typed: alike in shares of absolute pressure, so no gauge.
    found = round_(typed=Air(25, 410))
    assert found.odd
    assert found.like == "temperature"
    assert "as if the tires stood at 5 °C: a wrong temperature, most likely." in said(found)
    assert not any(p.stands_out for p in found.parts)


def test_a_wrong_temperature_beside_the_weather_service() -> None:
    found = round_(typed=Air(25, 410), known=Circumstances(service_c=6))
    assert "the temperature entered is wrong. It fits 5 °C, and the weather service says 6 °C." in said(found)


def test_a_wrong_gauge() -> None:
    found = round_(all_kpa=28)
    assert found.odd
    assert found.like == "gauge"
    assert "the gauge, or the elevation, is off in this round" in said(found)
    assert "another gauge was used than before" in said(round_(all_kpa=28, known=Circumstances(gauge_changed=True)))


def test_a_heated_shop() -> None:
    # The rig stood at 20 °C inside, 5 °C outside was entered.
    found = round_(now=Air(20, 410), typed=NOW)
    assert "as if the tires stood at 20 °C. A heated shop, not cold yet" in said(found)


def test_sun_on_one_side() -> None:
    # 14 °C warmer on the right: 4.8 % of absolute pressure there.
    warm = {name: 0.048 * (kpa + 96.5) for name, side, kpa in WHEELS if side > 0}
    found = round_(warm)
    assert found.sides_kpa is not None
    assert "The right side reads" in said(found)
    assert "the sun was on it" in said(found)
    assert "leak" not in said(found)


def test_two_axles_cannot_say_which() -> None:
    steps = tuple(
        Step(n, 690, THEN, carry(690, THEN, Air(25, 410)), NOW, 0.0, side=s) for n, s, _ in WHEELS
    )  # fmt: skip
    found = split(steps)
    assert found.like == "either"


def test_three_wheels_share_nothing() -> None:
    steps = tuple(Step(n, 690, THEN, carry(690, THEN, NOW) - 20, NOW, 0.0) for n in ("1", "2", "3"))
    found = split(steps)
    assert found.shared is None
    assert "cannot be told apart further" in said(found)
    assert "1 alone is 20 kPa lower than its own history" in said(found)


def test_a_spare_feels_the_weather_but_makes_none() -> None:
    steps = [Step(n, 690, THEN, carry(690, THEN, NOW), NOW, 0.0) for n in ("1L", "1R", "2L", "2R")]
    found = split((*steps, Step("S1", 690, THEN, 480, NOW, 0.0, spare=True)))
    assert found.shared == pytest.approx(0)
    assert [p.name for p in found.parts if p.stands_out] == ["S1"]


def test_the_first_round_has_nothing_behind_it() -> None:
    assert said(split(())) == "Nothing to compare with yet: this is the first sealed round."


def test_the_bound_of_what_hands_explain() -> None:
    # Two readings by hand of 0.5 psi: 2 × √2 × 0.5 psi = 9.75 kPa.
    assert not round_({"2Li": -9}).parts[2].stands_out
    assert round_({"2Li": -10.5}).parts[2].stands_out
    assert pytest.approx(2 * 2**0.5 * 0.5 * PSI_KPA, abs=0.01) == 9.75


def test_what_fits_several_causes_names_all_of_them() -> None:
    # Six alike at 690: it was −15 °C and 5 °C was typed. Gauge, elevation and thermometer look alike here.
    steps = tuple(Step(n, 690, THEN, carry(690, THEN, Air(-15, 410)), NOW, 0.0, side=s) for n, s, _ in WHEELS)
    found = split(steps)
    assert found.like == "either"
    assert "a wrong temperature (it fits −15 °C), another elevation, or the gauge. Check these three." in said(found)


def test_several_that_stand_out_are_counted() -> None:
    found = round_({"2Li": -40, "1R": -25})
    assert "2Li alone is 40 kPa lower than the others and usual loss explain, and 1 more" in said(found)


def test_a_quiet_round_in_quiet_air_says_so() -> None:
    steps = tuple(Step(n, 690, THEN, 690, THEN, 0.0, side=s) for n, s, _ in WHEELS)
    assert said(split(steps)) == (
        "The air was as it was the time before; beyond that all tires together stayed as they were. | No tire stands out."
    )
