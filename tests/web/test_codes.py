"""A code beside the password."""

import re
from datetime import timedelta

import pytest
from django.core import mail
from django.utils import timezone
from django_otp.oath import totp
from django_otp.plugins.otp_static.models import StaticDevice
from django_otp.plugins.otp_totp.models import TOTPDevice

from tests.pages import text
from web.common.accounts.models import User

pytestmark = pytest.mark.django_db
MINE = {"password": "open-the-crate"}
NAME = {"username": "wren", "password": "open-the-crate"}


def shown(wren, after=0):
    """What the device shows now, or a step of half a minute later."""
    return f"{totp(TOTPDevice.objects.get(user=wren).bin_key, drift=after):06}"


def calm():
    """As after the wait that a wrong code costs."""
    for kind in (TOTPDevice, StaticDevice):
        kind.objects.update(throttling_failure_count=0, throttling_failure_timestamp=None)


def test_a_password_alone_is_half_the_way(signed_in, wren, client):
    page = text(signed_in.post("/account/codes/", {"do": "start"}))
    assert "<svg" in page
    assert signed_in.post("/account/codes/", {"do": "begin", "code": "000000", **MINE}).status_code == 422
    calm()
    told = text(signed_in.post("/account/codes/", {"do": "begin", "code": shown(wren), **MINE}))
    paper = re.findall(r"<code>([0-9a-f]{4} [0-9a-f]{4})</code>", told)
    assert len(paper) == 10
    signed_in.logout()
    assert client.get("/account/sign-in/code/").status_code == 302  # nobody is half in
    first = client.post("/account/sign-in/", NAME)
    assert first.url == "/account/sign-in/code/"
    assert client.get("/crate/").status_code == 302
    assert client.post("/account/sign-in/code/", {"code": "123456"}).status_code == 422
    assert client.get("/crate/").status_code == 302
    calm()
    assert client.post("/account/sign-in/code/", {"code": shown(wren, after=1)}).status_code == 302
    assert client.get("/crate/").status_code == 200
    client.logout()
    for status in (302, 422):  # one on paper lets in once
        calm()
        client.post("/account/sign-in/", NAME)
        assert client.post("/account/sign-in/code/", {"code": paper[0]}).status_code == status
        client.logout()


def test_codes_are_ended_with_the_password(signed_in, wren):
    signed_in.post("/account/codes/", {"do": "start"})
    signed_in.post("/account/codes/", {"do": "begin", "code": shown(wren), **MINE})
    assert signed_in.post("/account/codes/", {"do": "end", "password": "no"}).status_code == 422
    assert signed_in.post("/account/codes/", {"do": "end", "password": "open-the-crate"}).status_code == 302
    assert not TOTPDevice.objects.filter(user=wren).exists()


def test_one_signs_in_by_mail_as_well(client, wren):
    told = {"username": wren.email.upper(), "password": "open-the-crate"}
    assert client.post("/account/sign-in/", told).status_code == 302
    client.logout()
    unknown = text(client.post("/account/sign-in/", {"username": "nobody@example.org", "password": "x"}))
    known = text(client.post("/account/sign-in/", {"username": wren.email, "password": "x"}))
    words = re.compile(r'class="wrong"[^>]*>([^<]*)<')
    assert words.findall(unknown) == words.findall(known) != []


def test_one_sees_where_one_is_signed_in_and_ends_it(client, wren):
    from django.test import Client

    other = Client(headers={"User-Agent": "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0"})
    for one in (client, other):
        one.post("/account/sign-in/", NAME)
    page = text(client.get("/account/places/"))
    assert "Firefox on Linux" in page
    assert other.get("/crate/").status_code == 200
    mark = re.search(r'name="mark" value="(\w{16})"', page)[1]
    client.post("/account/places/", {"mark": mark})
    assert other.get("/crate/").status_code == 302
    assert client.get("/crate/").status_code == 200


def with_codes(signed_in, wren):
    signed_in.post("/account/codes/", {"do": "start"})
    calm()
    signed_in.post("/account/codes/", {"do": "begin", "code": shown(wren), **MINE})
    assert TOTPDevice.objects.filter(user=wren, confirmed=True).exists()


def test_codes_are_not_set_up_without_the_password(signed_in, wren):
    signed_in.post("/account/codes/", {"do": "start"})
    told = {"do": "begin", "code": shown(wren)}
    assert signed_in.post("/account/codes/", told).status_code == 422
    assert not TOTPDevice.objects.filter(user=wren, confirmed=True).exists()


def reset_by_mail(client, wren):
    password = "another-way-in"
    mail.outbox.clear()
    client.post("/account/password/forgotten/", {"email": wren.email})
    link = re.search(r"/account/password/new/\S+", mail.outbox[0].body)[0]
    form = client.get(link, follow=True)
    client.post(form.redirect_chain[-1][0], {"new_password1": password, "new_password2": password})
    return {"username": "wren", "password": password}


@pytest.mark.parametrize(("hours", "asked"), [(23, True), (25, False)])
def test_a_reset_by_mail_ends_codes_after_a_day(signed_in, wren, client, hours, asked):
    with_codes(signed_in, wren)
    signed_in.logout()
    name = reset_by_mail(client, wren)
    User.objects.filter(pk=wren.pk).update(codes_end_at=timezone.now() + timedelta(days=1, hours=-hours))
    assert ("code" in client.post("/account/sign-in/", name).url) == asked


def test_who_signs_in_with_a_code_meanwhile_keeps_them(signed_in, wren, client):
    with_codes(signed_in, wren)
    signed_in.logout()
    name = reset_by_mail(client, wren)
    assert User.objects.get(pk=wren.pk).codes_end_at
    client.post("/account/sign-in/", name)
    calm()
    client.post("/account/sign-in/code/", {"code": shown(wren, after=1)})
    assert User.objects.get(pk=wren.pk).codes_end_at is None
