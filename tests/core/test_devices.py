"""The meter and the forecast, well and unwell, through their real protocols on loopback."""

import threading
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import InvalidInput
from tackle.base.vocabulary import Light, Stain
from tackle.devices.forecast import fetch_forecast, parse_forecast
from tackle.devices.http import Unreachable
from tackle.devices.meter import MeterReading, checksum, parse_sentence, read_meter, sentence
from web.demo.services import ForecastService, MeterService

DAY = date(2026, 5, 4)


def served(service):
    threading.Thread(target=service.serve_forever, daemon=True).start()
    return service


@given(st.floats(0.1, 1199), st.sampled_from([None, *Stain]))
def test_a_sentence_reads_back(inches, stain):
    again = parse_sentence(sentence(MeterReading(inches, stain)))
    assert again.visibility_in == pytest.approx(inches, abs=0.06)
    assert again.stain == stain


@given(st.text(max_size=60))
def test_nonsense_is_refused_not_believed(line):
    with pytest.raises(InvalidInput):
        parse_sentence(line)


@pytest.mark.parametrize(
    "body", ["CMVIS,-4,I,", "CMVIS,soup,I,silt", "CMVIS,30,F,silt", "CMVIS,30,I,mud", "GPGGA,1,I,"]
)
def test_a_fitting_checksum_does_not_make_sense_of_nonsense(body):
    with pytest.raises(InvalidInput):
        parse_sentence(f"${body}*{checksum(body)}")


def test_centimetres_are_read():
    assert parse_sentence("$CMVIS,75.0,C,*" + checksum("CMVIS,75.0,C,")).visibility_in == pytest.approx(29.5, abs=0.1)


def test_a_meter_is_read_and_its_garbled_sentence_counted():
    heard = read_meter(*served(MeterService()).server_address)
    assert len(heard.readings) == 3
    assert heard.refused == 1
    assert "checksum" in heard.first_reason


@pytest.mark.parametrize(("mode", "refused"), [("wrong", 3), ("down", 0), ("late", 0)])
def test_a_meter_that_is_unwell_gives_no_reading(mode, refused):
    heard = read_meter(*served(MeterService(mode=mode)).server_address, timeout_s=0.3)
    assert (heard.readings, heard.refused) == ((), refused)


def test_no_meter_at_all():
    port = MeterService().server_address[1] + 1
    with pytest.raises(ConnectionRefusedError):
        read_meter("127.0.0.1", port, 0.2)


def forecast_at(service, timeout_s=2.0):
    host, port = service.server_address[:2]
    return fetch_forecast(f"http://{host}:{port}/", 38.2, -84.5, DAY, timeout_s)


def test_a_forecast_tells_light_and_wind_hour_by_hour():
    hours = forecast_at(served(ForecastService()))
    assert [hour.hour for hour in hours] == list(range(24))
    assert hours[0].light is Light.NIGHT
    assert hours[12].light in (Light.BRIGHT, Light.BROKEN, Light.OVERCAST)
    assert hours == forecast_at(served(ForecastService()))


def test_a_forecast_that_is_late_wrong_or_down():
    with pytest.raises(Unreachable):
        forecast_at(served(ForecastService(mode="late")), 0.3)
    with pytest.raises(Unreachable):
        forecast_at(served(ForecastService(mode="down")))
    with pytest.raises(InvalidInput, match="cloud: 40 is not allowed"):
        forecast_at(served(ForecastService(mode="wrong")))


@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(max_size=5),
        lambda inner: (
            st.lists(inner, max_size=3)
            | st.dictionaries(st.sampled_from(["hours", "hour", "cloud"]), inner, max_size=3)
        ),
        max_leaves=8,
    )
)
def test_any_other_answer_is_refused(raw):
    with pytest.raises(InvalidInput):
        parse_forecast(raw, 38.2, -84.5, DAY)
