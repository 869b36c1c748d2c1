import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.units import (
    read_length_in,
    read_temperature_f,
    write_depth,
    write_exact,
    write_length,
    write_range,
    write_weight,
)


@pytest.mark.parametrize(
    ("text", "system", "inches"),
    [
        ("30", "imperial", 30),
        ("30", "metric", 30 / 2.54),
        ("2 ft 6 in", "imperial", 30),
        ("2'6\"", "metric", 30),
        ("75 cm", "imperial", 75 / 2.54),
        ("1,2 m", "metric", 120 / 2.54),
    ],
)
def test_reads_lengths_as_anglers_write_them(text, system, inches):
    assert read_length_in(text, system, "clarity") == pytest.approx(inches)


@pytest.mark.parametrize("text", ["", "deep", "3 fathoms", "4 in deep"])
def test_says_what_a_length_looks_like(text):
    with pytest.raises(InvalidInput, match=r"clarity: .*allowed: 30 in"):
        read_length_in(text, "imperial", "clarity")


@given(st.floats(1, 1000), st.sampled_from(["imperial", "metric"]))
def test_what_is_written_reads_back(inches, system):
    assert read_length_in(write_exact(inches, system), system, "clarity") == pytest.approx(inches, rel=1e-5)
    assert read_length_in(write_length(inches, system), system, "clarity") == pytest.approx(inches, abs=0.61)


def test_a_range_has_one_unit():
    assert write_range(30, 60, "imperial") == "30 – 60 in"
    assert write_range(60, 144, "imperial") == "5 – 12 ft"
    assert write_range(144, None, "metric") == "over 3.66 m"
    assert write_range(0, 8, "metric") == "under 20 cm"


def test_temperatures_are_read_in_either_system():
    assert read_temperature_f("65", "imperial", "temp") == 65
    assert read_temperature_f("18 C", "imperial", "temp") == pytest.approx(64.4)
    assert read_temperature_f("18,5°", "metric", "temp") == pytest.approx(65.3)
    with pytest.raises(InvalidInput, match="temp: 'warm' is not a temperature"):
        read_temperature_f("warm", "metric", "temp")


def test_weights_are_said_as_on_the_pack():
    said = [write_weight(ounces, "imperial") for ounces in (0.375, 1.5, 0.35, 3, 16, 56.48)]
    assert said == ["3/8 oz", "1 1/2 oz", "0.35 oz", "3 oz", "1 lb", "3 lb 8 oz"]
    assert [write_weight(ounces, "metric") for ounces in (0.125, 0.5, 40)] == ["3.5 g", "14 g", "1.13 kg"]
    assert (write_depth(6.6, "imperial"), write_depth(6.6, "metric")) == ("6.6 ft", "2.012 m")
