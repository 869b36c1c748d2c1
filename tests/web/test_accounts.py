import re

import pytest
from django.core import mail

from web.accounts.models import User

pytestmark = pytest.mark.django_db


def test_every_page_but_the_doors_asks_to_sign_in(client):
    for address in ("/", "/waters/", "/plan/", "/crate/", "/account/", "/account/password/"):
        response = client.get(address, follow=True)
        assert response.redirect_chain[-1][0].startswith("/account/sign-in/?next=")


def test_a_part_of_a_page_is_not_swapped_for_the_sign_in(client):
    response = client.get("/crate/", headers={"HX-Request": "true"})
    assert response.headers["HX-Redirect"].startswith("/account/sign-in/")


def test_sign_up_sign_out_sign_in(client):
    entry = {"username": "dipper", "email": "d@example.org", "units": "metric"}
    weak = client.post("/account/sign-up/", {**entry, "password1": "12345", "password2": "12345"})
    assert weak.status_code == 422
    assert b"dipper" in weak.content
    secret = "brown-water-heron"
    client.post("/account/sign-up/", {**entry, "password1": secret, "password2": secret})
    assert client.get("/start/").status_code == 200
    client.post("/account/sign-out/")
    assert client.get("/start/").status_code == 302
    client.post("/account/sign-in/", {"username": "dipper", "password": secret})
    assert b"most like your water" in client.get("/waters/", follow=True).content


def test_a_forgotten_password_is_reset_by_mail(client, wren):
    client.post("/account/password/forgotten/", {"email": wren.email})
    link = re.search(r"http://127.0.0.1:\d+(/\S+)", mail.outbox[0].body)[1]
    form = client.get(link, follow=True)
    new = {"new_password1": "another-crate-77", "new_password2": "another-crate-77"}
    client.post(form.redirect_chain[-1][0], new)
    assert User.objects.get(pk=wren.pk).check_password("another-crate-77")
    assert b"run out" in client.get(link, follow=True).content


def test_units_are_the_readers(signed_in, wren):
    assert b"5 ft of sight" in signed_in.get("/waters/", follow=True).content
    signed_in.post("/account/", {"email": wren.email, "units": "metric"})
    assert b"1.52 m of sight" in signed_in.get("/waters/", follow=True).content
    assert "38 – 76 cm".encode() in signed_in.get("/plan/").content


def test_wrong_passwords_lock_the_name(client, wren):
    for _ in range(10):
        client.post("/account/sign-in/", {"username": "wren", "password": "guess"})
    locked = client.post("/account/sign-in/", {"username": "wren", "password": "open-the-crate"})
    assert b"Too many wrong passwords" in locked.content


def test_the_policy_is_strict_on_every_page(client, signed_in):
    for address in ("/account/sign-in/", "/plan/", "/nowhere/"):
        policy = signed_in.get(address, follow=True).headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy


def test_who_is_saved_whole_writes_no_old_version_back(wren):
    """A password is changed while another tab changes the crate."""
    from web.accounts.models import User
    from web.stock.changes import make_tray

    earlier, other = User.objects.get(pk=wren.pk), User.objects.get(pk=wren.pk)
    make_tray(other, "Odds", "teal")
    earlier.set_password("quite-another-one")
    earlier.save()
    now = User.objects.get(pk=wren.pk)
    assert now.version == other.version != earlier.version
    assert now.check_password("quite-another-one")
