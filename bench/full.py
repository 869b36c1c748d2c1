"""The disk full under writes: refused in words, what was acknowledged is there, and with room again it goes on.

The disk is a small one in memory, which only root may make; as anybody else this says so, and is not counted.
"""

import os
import secrets
import subprocess
import tempfile
from pathlib import Path

from bench.kills import THERE
from bench.servers import Server, app_on, ask, environment, filled

PORT, APP, DISK_MB = 8702, 8792, 220
SMALL = ("--innodb-log-file-size=8M", "--innodb-buffer-pool-size=32M")
ALL_WELL = "CHECK TABLE wax.waters_reading, wax.accounts_user, wax.history_change"


def run() -> bool:
    if os.getuid():
        print("     a full disk: only root can make one here")
        return True
    place = Path(tempfile.mkdtemp(prefix="wax-full-", dir="var")).resolve()
    place.chmod(0o711)
    subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m,mode=711", "wax-full", str(place)], check=True)
    server, app, acknowledged, told = Server(place / "node", PORT), None, [], {}
    filler = place / "filler"

    def write() -> tuple[int, str]:
        note = f"bench-{secrets.token_hex(6)}"
        body = {"readings": [{"date": "2026-05-01", "visibility_in": 30, "note": note} for _ in range(200)]}
        status, words = ask(APP, f"/api/waters/{water}/readings", secrets.choice(keys), body)
        told[status] = told.get(status, 0) + 1
        if status == 201:
            acknowledged.append(note)
        return status, words

    try:
        server.make()
        server.start(*SMALL)
        server.open_to_app()
        there = environment([server])
        *keys, water = filled(there)
        app = app_on(there, APP)
        _fill(filler)
        refused: dict[int, str] = {}
        for _ in range(60):
            status, words = write()
            if status != 201:
                refused[status] = words
            if told.get(status, 0) > 5 and status != 201:
                break
        looking = ask(APP, "/api/waters", keys[0])[0]
        filler.unlink()
        after = [write()[0] for _ in range(5)]
        lost = [note for note in acknowledged if server.ask(THERE.format(note)) != "200"]
        well = server.ask(ALL_WELL) == "OK"
        words = " / ".join(sorted({one[:120] for one in refused.values()}))
        print(f"     the disk full: answers {told}, {words}")
        print(f"     looking meanwhile {looking}; with room again {after}; {len(acknowledged)} acknowledged, "
              f"{len(lost)} lost, tables {'well' if well else 'NOT WELL'}")  # fmt: skip
        return bool(set(refused) == {507} and looking == 200 and set(after) == {201} and not lost and well)
    finally:
        if app:
            app.terminate()
            app.wait()
        if server.running:
            server.kill()
        subprocess.run(["umount", "-l", str(place)], check=False)
        place.rmdir()


def _fill(filler: Path) -> None:
    """Writes until the disk takes no more."""
    with filler.open("wb", buffering=0) as file:
        for size in (2**20, 2**12):
            try:
                while True:
                    file.write(b"x" * size)
            except OSError:
                pass
