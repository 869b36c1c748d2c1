"""A passkey of a simulated device: made with the password, used without it, ended."""

import json

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import open_page

DEVICE = {
    "protocol": "ctap2", "transport": "internal", "hasResidentKey": True, "hasUserVerification": True,
    "isUserVerified": True, "automaticPresenceSimulation": True,
}  # fmt: skip


@pytest.fixture
def device(page, live_server, settings):
    settings.OWN_ADDRESS = live_server.url
    talk = page.context.new_cdp_session(page)
    talk.send("WebAuthn.enable")
    talk.send("WebAuthn.addVirtualAuthenticator", {"options": DEVICE})
    return page


def make(page, known="open-the-crate"):
    page.goto("/account/passkeys/")
    page.get_by_label("What to call it").fill("boat phone")
    page.get_by_label("Your password").fill(known)
    page.get_by_role("button", name="Make a passkey").click()


def test_a_passkey_lets_in_without_a_password(device, browser, live_server):
    page = device
    make(page, "a guess")
    expect(page.get_by_role("alert").filter(has_text="not your password")).to_be_visible()
    assert any("422" in said for said in page.complaints)
    page.complaints.clear()
    make(page)
    expect(page.get_by_role("heading", name="1 passkey signs you in.")).to_be_visible()
    page.goto("/account/")
    page.get_by_role("button", name="Sign out").click()
    page.get_by_role("button", name="Sign in with a passkey").click()
    page.wait_for_url(lambda url: "/sign-in/" not in url)

    page.goto("/account/passkeys/")
    other = open_page(browser, live_server)  # a browser without it
    other.goto("/account/sign-in/")
    token = other.locator("[name=csrfmiddlewaretoken]").first.input_value()
    for answer in ({"rawId": "AAAA", "id": "AAAA"}, [1], 7, {"rawId": 5}, {"rawId": "AAAA", "response": 3}):
        told = {"csrfmiddlewaretoken": token, "answer": json.dumps(answer)}
        assert other.request.post("/account/sign-in/passkey/", form=told).status == 422
    token = page.locator("[name=csrfmiddlewaretoken]").first.input_value()
    for answer in ([1], 7, "x"):
        told = {"csrfmiddlewaretoken": token, "answer": json.dumps(answer), "name": "odd"}
        assert page.request.post("/account/passkeys/add/", form=told).status == 422
    assert other.request.get("/crate/", max_redirects=0).status == 302
    other.context.close()

    page.get_by_role("button", name="Remove boat phone").click()
    expect(page.get_by_text("boat phone is removed.")).to_be_visible()
    page.goto("/account/")
    page.get_by_role("button", name="Sign out").click()
    page.get_by_role("button", name="Sign in with a passkey").click()
    expect(page.get_by_role("alert").filter(has_text="not accepted")).to_be_visible()
    page.complaints.clear()


def test_an_answer_is_good_once(device):
    page = device
    make(page)
    page.get_by_role("heading", name="1 passkey").wait_for()
    page.goto("/account/")
    page.get_by_role("button", name="Sign out").click()
    with page.expect_request("**/account/sign-in/passkey/") as sent:
        page.get_by_role("button", name="Sign in with a passkey").click()
    page.wait_for_url(lambda url: "/sign-in/" not in url)
    again = page.request.post(
        "/account/sign-in/passkey/", data=sent.value.post_data_buffer, headers={**sent.value.headers}
    )
    assert again.status in (403, 422)


def test_under_a_number_there_are_none(page, settings):
    settings.OWN_ADDRESS = "http://127.0.0.1:8040"
    assert page.request.get("/account/passkeys/").status == 404
    page.goto("/account/")
    expect(page.get_by_role("link", name="Passkeys")).to_have_count(0)
