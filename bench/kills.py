"""The database killed under writes, WAX_ROUNDS times, and then processes of the app: what was acknowledged is there
after all of them, and there once."""

import os
import secrets
import shutil
import signal
import tempfile
import threading
import time
from pathlib import Path

from bench.servers import Server, app_on, ask, environment, filled

PORT, APP, WRITERS = 8701, 8791, 3
THERE = "SELECT COUNT(*) FROM wax.waters_reading WHERE note = '{}'"
TRIES = 3
ROUNDS = int(os.environ.get("WAX_ROUNDS", "200"))


def run() -> bool:
    place = Path(tempfile.mkdtemp(prefix="wax-kills-", dir="var"))
    place.chmod(0o711)
    server, app = Server(place.resolve() / "node", PORT), None
    acknowledged: list[str] = []
    told: dict[int, int] = {}
    crashed = 0
    stop = threading.Event()
    try:
        server.make()
        server.start()
        server.open_to_app()
        there = environment([server])
        *keys, water = filled(there)
        app = app_on(there, APP, workers=2)

        def write() -> None:
            while not stop.is_set():
                note = f"bench-{secrets.token_hex(6)}"
                body = {"readings": [{"date": "2026-05-01", "visibility_in": 30, "note": note}]}
                status, _ = ask(APP, f"/api/waters/{water}/readings", secrets.choice(keys), body)
                told[status] = told.get(status, 0) + 1
                if status == 201:
                    acknowledged.append(note)
                time.sleep(0.02 if status == 201 else 0.1)

        writers = [threading.Thread(target=write) for _ in range(WRITERS)]
        for writer in writers:
            writer.start()
        for _ in range(ROUNDS):
            time.sleep(0.2 + secrets.randbelow(400) / 1000)
            server.kill()
            crashed += _started(server)
        with_database = len(acknowledged)
        for _ in range(ROUNDS):
            time.sleep(0.2 + secrets.randbelow(400) / 1000)
            if workers := _workers(app.pid):
                os.kill(secrets.choice(workers), signal.SIGKILL)
        stop.set()
        for writer in writers:
            writer.join()
        lost = [note for note in acknowledged if server.ask(THERE.format(note)) != "1"]
        told = dict(sorted(told.items()))
        with_app = len(acknowledged) - with_database
        print(f"     {ROUNDS} kills of the database, {with_database} acknowledged meanwhile; of processes of the app "
              f"{ROUNDS}, {with_app} acknowledged; {len(lost)} lost; answers {told}")  # fmt: skip
        if crashed:
            print(f"     {crashed} times it ended while it recovered, and was started again, as ./wax does")
        return not lost and min(with_database, with_app) > ROUNDS // 4
    finally:
        stop.set()
        if app:
            app.terminate()
            app.wait()
        if server.running:
            server.kill()
        shutil.rmtree(place, ignore_errors=True)


def _workers(master: int) -> list[int]:
    """The processes that a server has answering for it."""
    return [int(one) for one in Path(f"/proc/{master}/task/{master}/children").read_text().split()]


def _started(server: Server) -> int:
    """Starts the database, again where it ends while it recovers; how often it did."""
    for crashed in range(TRIES):
        try:
            server.start()
            return crashed
        except SystemExit as ended:
            print(ended)
    raise SystemExit("the database does not come back")
