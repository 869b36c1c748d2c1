"""The database killed under writes, WAX_ROUNDS times: what was acknowledged is there after all of them."""

import os
import secrets
import shutil
import tempfile
import threading
import time
from pathlib import Path

from bench.servers import Server, app_on, ask, environment, filled

PORT, APP, WRITERS = 8701, 8791, 3
THERE = "SELECT COUNT(*) FROM wax.waters_reading WHERE note = '{}'"
ROUNDS = int(os.environ.get("WAX_ROUNDS", "200"))


def run() -> bool:
    place = Path(tempfile.mkdtemp(prefix="wax-kills-", dir="var"))
    place.chmod(0o711)
    server, app = Server(place.resolve() / "node", PORT), None
    acknowledged: list[str] = []
    told: dict[int, int] = {}
    stop = threading.Event()
    try:
        server.make()
        server.start()
        server.open_to_app()
        there = environment([server])
        *keys, water = filled(there)
        app = app_on(there, APP)

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
            server.start()
        stop.set()
        for writer in writers:
            writer.join()
        lost = [note for note in acknowledged if server.ask(THERE.format(note)) != "1"]
        told = dict(sorted(told.items()))
        print(f"     {ROUNDS} kills, {len(acknowledged)} acknowledged, {len(lost)} lost; answers {told}")
        return not lost and len(acknowledged) > ROUNDS // 4
    finally:
        stop.set()
        if app:
            app.terminate()
            app.wait()
        if server.running:
            server.kill()
        shutil.rmtree(place, ignore_errors=True)
