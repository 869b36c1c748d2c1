import re
from datetime import timedelta

import pytest
from axes.models import AccessAttempt
from django.core import mail
from django.test import Client
from django.utils import timezone

from tests.pages import text
from web.common.accounts import throttle
from web.common.accounts.models import Try, User
from web.common.accounts.services import keep_passkey
from web.common.accounts.throttle import forget_old_tries
from web.pages.api.services import make_token
from web.pages.sharing.services import make_share

pytestmark = pytest.mark.django_db


@pytest.fixture
def client_class():
    return Client


def test_every_page_but_the_doors_asks_to_sign_in(client):
    for address in ("/waters/", "/plan/", "/crate/", "/account/", "/account/password/"):
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


PASSWORD = "open-the-crate"
ANOTHER = {"new_password1": "another-crate-77", "new_password2": "another-crate-77"}


def entered(owner, client_class):
    """One of each way into an account: a program, a passkey, a link, and a place elsewhere."""
    token, key = make_token(owner, "meter", ["waters"])
    keep_passkey(owner, "phone", b"credential", b"public", 0)
    share = make_share(owner, "water", str(owner.waters.first().pk))
    elsewhere = client_class()
    elsewhere.force_login(owner, backend="django.contrib.auth.backends.ModelBackend")
    return token, key, share, elsewhere


def left(owner, key, share, elsewhere, client):
    return (
        client.get("/api/waters", headers={"Authorization": f"Bearer {key}"}).status_code == 200,
        owner.passkeys.exists(),
        client.get(f"/shared/{share.key}/").status_code == 200,
        elsewhere.get("/account/").status_code == 200,
    )


def kept_keys(page):
    return re.findall(r'name="keep" value="([^"]+)"', text(page))


@pytest.mark.parametrize("keep", [False, True])
def test_another_password_ends_all_other_ways_in_but_those_that_are_kept(signed_in, wren, client_class, keep):
    _, key, share, elsewhere = entered(wren, client_class)
    page = signed_in.get("/account/password/")
    keys = kept_keys(page)
    assert len(keys) == 4
    assert "the program meter" in text(page)
    told = {"old_password": PASSWORD, **ANOTHER, "keep": keys if keep else []}
    done = signed_in.post("/account/password/", told, follow=True)
    assert ("4 other devices are signed out" in text(done)) == (not keep)
    assert left(wren, key, share, elsewhere, client_class()) == (keep,) * 4
    assert signed_in.get("/account/").status_code == 200  # where it was changed


@pytest.mark.parametrize("keep", [False, True])
def test_so_does_one_that_was_forgotten(client, wren, client_class, keep):
    _, key, share, elsewhere = entered(wren, client_class)
    client.post("/account/password/forgotten/", {"email": wren.email})
    link = re.search(r"http://127.0.0.1:\d+(/\S+)", mail.outbox[0].body)[1]
    form = client.get(link, follow=True)
    client.post(form.redirect_chain[-1][0], {**ANOTHER, "keep": kept_keys(form) if keep else []})
    assert left(wren, key, share, elsewhere, client_class()) == (keep,) * 4


def test_signing_up_does_not_tell_whether_an_address_is_known(client, wren):
    for name, address in (("rail", wren.email), ("crake", "crake@example.org")):
        told = {"username": name, "email": address, "units": "metric"}
        answer = client.post("/account/sign-up/", {**told, "password1": "brown-water", "password2": "brown-water"})
        assert (answer.status_code, answer.headers.get("Location")) == (302, "/")
        client.post("/account/sign-out/")
    client.post("/account/sign-in/", {"username": wren.email, "password": PASSWORD})
    assert client.get("/account/").context["user"].username == "wren"  # still hers alone
    mail.outbox.clear()
    client_class_of_another = type(client)()
    client_class_of_another.post("/account/password/forgotten/", {"email": wren.email})
    assert {name for name in ("wren", "rail") for one in mail.outbox if f"for {name} " in one.body} == {"wren", "rail"}


@pytest.mark.parametrize(
    ("address", "told"),
    [
        ("/account/password/", {"old_password": "guess", **ANOTHER}),
        ("/account/codes/", {"do": "end", "password": "guess"}),
        ("/account/", {"email": "mine@example.org", "units": "metric", "password": "guess"}),
        ("/account/archive/delete/", {"password": "guess"}),
    ],
)
def test_wrong_passwords_are_counted_wherever_one_is_asked_for(signed_in, wren, address, told):
    for _ in range(10):
        assert signed_in.post(address, told).status_code in (200, 422)
    waits = signed_in.post(address, {name: PASSWORD if value == "guess" else value for name, value in told.items()})
    assert waits.status_code == 429
    assert 0 < int(waits.headers["Retry-After"]) <= 900
    assert User.objects.get(pk=wren.pk).check_password(PASSWORD)
    elsewhere = signed_in.post(address, told, REMOTE_ADDR="10.9.8.7")
    assert elsewhere.status_code == 429  # by account, from wherever


def test_units_are_the_readers(signed_in, wren):
    assert b"5 ft of visibility" in signed_in.get("/waters/", follow=True).content
    signed_in.post("/account/", {"email": wren.email, "units": "metric"})
    assert b"1.52 m of visibility" in signed_in.get("/waters/", follow=True).content
    assert "38 – 76 cm".encode() in signed_in.get("/plan/").content


def test_wrong_passwords_lock_the_name(client, wren):
    for _ in range(10):
        client.post("/account/sign-in/", {"username": "wren", "password": "guess"})
    locked = client.post("/account/sign-in/", {"username": "wren", "password": "open-the-crate"})
    assert b"Too many wrong passwords" in locked.content
    assert (locked.status_code, locked.headers["Retry-After"]) == (429, "900")


def test_the_policy_is_strict_on_every_page(client, signed_in):
    for address in ("/account/sign-in/", "/plan/", "/nowhere/"):
        policy = signed_in.get(address, follow=True).headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy


def test_who_is_saved_whole_writes_no_old_version_back(wren):
    """A password is changed while another tab changes the crate."""
    from web.common.accounts.models import User
    from web.domain.crate.services import make_tray

    earlier, other = User.objects.get(pk=wren.pk), User.objects.get(pk=wren.pk)
    make_tray(other, "Odds", "teal")
    earlier.set_password("quite-another-one")
    earlier.save()
    now = User.objects.get(pk=wren.pk)
    assert now.version == other.version != earlier.version
    assert now.check_password("quite-another-one")


GUESS = {"username": "wren", "password": "guess"}


def test_guesses_from_many_addresses_are_slow_and_lock_nobody_out(client_class, wren):
    known = client_class()
    assert known.post("/account/sign-in/", {**GUESS, "password": PASSWORD}).status_code == 302
    known.post("/account/sign-out/")
    for number in range(40):
        client_class(REMOTE_ADDR=f"10.0.0.{number}").post("/account/sign-in/", GUESS)
    stranger = client_class(REMOTE_ADDR="10.0.1.1")
    said = stranger.post("/account/sign-in/", {**GUESS, "password": PASSWORD})
    assert said.status_code == 429
    assert "used before" in text(said)
    assert known.post("/account/sign-in/", {**GUESS, "password": PASSWORD}).status_code == 302
    another = client_class(REMOTE_ADDR="10.0.1.2")  # one name's guesses are no other's
    assert another.post("/account/sign-in/", {**GUESS, "username": "heron"}).status_code == 422


@pytest.mark.parametrize(
    ("told", "counted"),
    [
        ("203.0.113.9", "203.0.113.9"),
        ("2001:db8:1:2:3:4:5:6", "2001:db8:1:2::"),
        ("2001:db8:1:2:ffff::1", "2001:db8:1:2::"),
        ("::ffff:203.0.113.9", "203.0.113.9"),
        ("", ""),
    ],
)
def test_an_address_is_counted_by_its_network(rf, told, counted):
    assert throttle.address(rf.get("/", REMOTE_ADDR=told)) == counted


@pytest.mark.parametrize("password", ["short-one", "1234567890", "qwertyuiop"])
def test_a_password_is_long_and_not_a_common_one(client, db, password):
    told = {"username": "heron", "email": "", "units": "metric", "password1": password, "password2": password}
    assert client.post("/account/sign-up/", told).status_code == 422


@pytest.mark.parametrize("password", ["", "guess", PASSWORD])
def test_a_key_for_programs_takes_the_password(signed_in, wren, password):
    signed_in.post("/account/programs/", {"name": "meter", "may": ["waters"], "password": password})
    assert wren.tokens.exists() == (password == PASSWORD)
    if token := wren.tokens.first():
        signed_in.post(f"/account/programs/{token.pk}/end/")
        assert wren.tokens.exists()
        signed_in.post(f"/account/programs/{token.pk}/end/", {"password": PASSWORD})
        assert not wren.tokens.exists()


def test_the_owner_is_told_by_mail(signed_in, wren, django_capture_on_commit_callbacks):
    before = wren.email
    with django_capture_on_commit_callbacks(execute=True):
        signed_in.post("/account/programs/", {"name": "meter", "may": ["waters"], "password": PASSWORD})
        signed_in.post("/account/", {"email": "new@example.org", "units": "metric", "password": PASSWORD})
        signed_in.post("/account/password/", {"old_password": PASSWORD, **ANOTHER})
    told = {(one.to[0], one.body.split("\n\n")[1]) for one in mail.outbox}
    assert told == {
        (before, "A key was made for the program meter."),
        (before, "The mail address was changed."),
        ("new@example.org", "The mail address was changed."),
        ("new@example.org", "The password was changed."),
    }


def test_rows_with_addresses_go_after_a_month(client, wren):
    client.post("/account/sign-in/", GUESS)
    assert AccessAttempt.objects.exists()
    for days, left in ((29, True), (31, False)):
        AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(days=days))
        Try.objects.update(at=timezone.now() - timedelta(days=days))
        forget_old_tries()
        assert AccessAttempt.objects.exists() == Try.objects.exists() == left


def test_no_header_moves_the_addresses(client):
    assert 'href="/account/' in text(client.get("/account/sign-in/", SCRIPT_NAME="/elsewhere", HTTP_SCRIPT_NAME="/x"))
