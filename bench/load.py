"""Many people at once on two workers, as people do, against a bare view with one query asked by the same client.

WAX_USERS and WAX_LURES say how many. Each fishes other waters (other days on them, and another clarity), or with
WAX_WATERS=same all the same ones: then what is worked out of the days to expect is worked out once for all of them.
"""

import http.client
import os
import random
import shutil
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from itertools import count
from pathlib import Path
from urllib.parse import urlencode

from bench.measure import resident_mb
from bench.servers import ROOT, Server, app_on, environment

PORT, APP, CLIENTS = 8705, 8795, 8
LINE = 25  # requests on one connection; then a new one, so that neither worker has all of them by chance
BARE_S, MIX_S = 6.0, 30.0
USERS, LURES = int(os.environ.get("WAX_USERS", "40")), int(os.environ.get("WAX_LURES", "300"))
SAME = os.environ.get("WAX_WATERS", "") == "same"
WARM_S = 8 + USERS / 2  # so long do people look around before it counts: each has been on most pages
LEAST = 0.35  # of a bare view's throughput
MOST_MB = 250  # that a worker may ever hold
LATEST = 10  # times the median: the slowest of a hundred
FILL = f"""
import io
import django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from web.common.accounts.models import User
from web.common.accounts.sessions import SessionStore
from web.pages.archive.services import take_in
from web.pages.archive.writing import write_archive
from web.demo.loader import load_demo
from web.domain.crate.models import Lure
from web.domain.waters.models import WaterMonth
wren = load_demo()
whole = io.BytesIO()
write_archive(wren, whole)
for number in range({USERS}):
    user = User.objects.create_user(f"angler{{number}}", f"angler{{number}}@example.org", "a-word-to-enter")
    whole.seek(0)
    take_in(user, whole)
    rows = list(Lure.objects.filter(tray__owner=user))
    more = [rows[place % len(rows)] for place in range({LURES} - len(rows))]
    Lure.objects.bulk_create([
        Lure(tray=one.tray, category=one.category, card=one.card, count=1, size_in=2 + place % 7, position=50 + place)
        for place, one in enumerate(more)
    ])
    months, own = list(WaterMonth.objects.filter(water__owner=user)), 0 if {SAME} else number / {USERS}
    for month in months:
        month.days = round(month.days * (1 + own / 2), 2)
        for sight in ("low_in", "usual_in", "high_in"):
            setattr(month, sight, round(getattr(month, sight) * (1 + own / 2), 1))
    WaterMonth.objects.bulk_update(months, ["days", "low_in", "usual_in", "high_in"])
    session = SessionStore()
    session.update({{SESSION_KEY: str(user.pk), BACKEND_SESSION_KEY: "django.contrib.auth.backends.ModelBackend",
                    HASH_SESSION_KEY: user.get_session_auth_hash()}})
    session.save()
    print(session.session_key, user.trips.first().pk)
"""
PAGES = ("/plan/", "/plan/?category=jerkbait", "/crate/", "/crate/", "/buy/", "/waters/", "/account/", "/colours/",
         "/colours/ask/?category=worm&see=30+in&light=broken")  # fmt: skip
CARDS = ("green-pumpkin-black", "watermelon-red", "red-bug", "dark-purple-green")


def run() -> bool:
    place = Path(tempfile.mkdtemp(prefix="wax-load-", dir="/dev/shm" if os.access("/dev/shm", os.W_OK) else None))
    place.chmod(0o711)
    server, app = Server(place / "node", PORT), None
    try:
        server.make()
        server.start()
        server.open_to_app()
        there = environment([server]) | {"DJANGO_SETTINGS_MODULE": "bench.settings"}
        start = time.monotonic()
        fill = [sys.executable, "-c", FILL]
        told = subprocess.run(fill, env=there, check=True, capture_output=True, text=True, cwd=ROOT).stdout
        people = [line.split() for line in told.splitlines() if line]
        taken = time.monotonic() - start
        waters = "the same waters" if SAME else "waters of their own"
        print(
            f"     {len(people)} people with {LURES} stacks each and {waters}, read in from an archive: {taken:.0f} s"
        )
        (place / "parts").mkdir()
        app = app_on(there, APP, workers=2, parts=str(place / "parts"))
        os.nice(10)  # the client: what it does with an answer is not the app's to wait for
        _asked(people, _as_people_do, WARM_S)
        before, _, _ = _asked(people, _bare, BARE_S / 2)
        mixed, times, answers = _asked(people, _as_people_do, MIX_S)
        after, _, _ = _asked(people, _bare, BARE_S / 2)
        bare = (before + after) / 2  # on both sides of the mix, for the machine is not always the same
        share = mixed / bare
        median, late = statistics.median(times), statistics.quantiles(times, n=100)[98]
        workers = Path(f"/proc/{app.pid}/task/{app.pid}/children").read_text(encoding="ascii").split()
        held = max(resident_mb(worker, "VmHWM") for worker in workers)
        good = share >= LEAST and late <= LATEST * median and held <= MOST_MB
        good &= not any(status >= 500 for status in answers)
        said = "ok  " if good else "SLOW"
        print(f"{said} the mix: {mixed:.0f} a second, {share:.2f} of a bare view's {bare:.0f} (at least {LEAST});")
        print(
            f"     median {median * 1000:.0f} ms, p99 {late * 1000:.0f} ms, {late / median:.1f} times that (at most "
            f"{LATEST}); answers {dict(sorted(answers.items()))};\n     a worker held {held:.0f} MB at most "
            f"(at most {MOST_MB})"
        )
        return good
    finally:
        if app:
            app.terminate()
            app.wait()
        if server.running:
            server.kill()
        shutil.rmtree(place, ignore_errors=True)


def _bare(pick: random.Random, person: list[str]) -> tuple[str, str, None]:
    return "GET", "/bare/", None


def _as_people_do(pick: random.Random, person: list[str]) -> tuple[str, str, dict[str, str] | None]:
    what = pick.random()
    if what < 0.84:
        return "GET", pick.choice(PAGES), None
    if what < 0.88:
        return "GET", f"/day/{person[1]}/", None
    if what < 0.96:
        return "POST", "/plan/settle/worm/", {"what": "lock", "value": pick.choice(CARDS)}
    return "POST", "/crate/enter/", {"lines": f"{pick.randint(1, 5)} junebug worm {pick.randint(4, 9)} in"}


def _asked(people: list[list[str]], what, seconds: float) -> tuple[float, list[float], Counter[int]]:
    """How many answers a second, how long each took, and their statuses."""
    times: list[float] = []
    answers: Counter[int] = Counter()
    until = time.monotonic() + seconds

    def ask(number: int) -> None:
        pick = random.Random(number)
        for asked in count():
            if time.monotonic() > until:
                return
            if asked % LINE == 0:
                line = http.client.HTTPConnection("127.0.0.1", APP, timeout=30)
            person = pick.choice(people)
            method, address, told = what(pick, person)
            token = "b" * 32
            headers = {
                "Cookie": f"sessionid={person[0]}; csrftoken={token}",
                "X-CSRFToken": token,
                "HX-Request": "true",
                "Content-Type": "application/x-www-form-urlencoded",
            }
            begun = time.perf_counter()
            line.request(method, address, urlencode(told) if told else None, headers)
            answer = line.getresponse()
            answer.read()
            times.append(time.perf_counter() - begun)
            answers[answer.status] += 1

    clients = [threading.Thread(target=ask, args=(number,)) for number in range(CLIENTS)]
    for client in clients:
        client.start()
    for client in clients:
        client.join()
    return len(times) / seconds, times, answers
