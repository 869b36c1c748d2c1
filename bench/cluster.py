"""Three database servers as one, two apps on them: one server killed and back, and nothing that was acknowledged lost.

Needs Debian's mariadb-server, galera-4, rsync, lsof and iproute2; all on loopback, all taken away at the end.
"""

import os
import secrets
import shutil
import tempfile
import threading
import time
from pathlib import Path

from bench.servers import Server, app_on, ask, environment, filled

PROVIDER = Path("/usr/lib/galera/libgalera_smm.so")
FIRST_PORT, WRITERS, ROUND_S = 8700, 4, 12.0
APPS = (8791, 8792)


def run() -> bool:
    if not PROVIDER.exists() or not shutil.which("wsrep_sst_rsync"):
        print("SKIP a cluster: install mariadb-server, galera-4, rsync, lsof and iproute2 first")
        return True
    place = Path(tempfile.mkdtemp(prefix="wax-cluster-", dir="/dev/shm" if os.access("/dev/shm", os.W_OK) else None))
    place.chmod(0o711)
    nodes, apps = [Server(place / f"node{number}", FIRST_PORT + number) for number in (1, 2, 3)], []
    try:
        start = time.monotonic()
        for node in nodes:
            node.make()
        for node in nodes:
            _join(node, first=node is nodes[0])
        nodes[0].open_to_app()
        print(f"     three nodes in {time.monotonic() - start:.0f} s")
        there = [environment(listed, "?wait_for_cluster=1") for listed in (nodes, [*nodes[1:], nodes[0]])]
        *keys, water = filled(there[0])
        apps = [app_on(told, port) for told, port in zip(there, APPS, strict=True)]
        good = _killed_and_back(nodes, keys[1:], water)
        return _same_row(keys[0], water) and good
    finally:
        for app in apps:
            app.terminate()
            app.wait()
        for node in nodes:
            if node.running:
                node.kill()
        shutil.rmtree(place, ignore_errors=True)


def _join(node: Server, first: bool = False) -> None:
    n, group = node.port, ",".join(f"127.0.0.1:{FIRST_PORT + 50 + one}" for one in (1, 2, 3))
    provider = f"gmcast.listen_addr=tcp://127.0.0.1:{n + 50};base_port={n + 50};ist.recv_addr=127.0.0.1:{n + 60}"
    node.start(
        "--binlog-format=ROW", "--innodb-autoinc-lock-mode=2", "--wsrep-on=ON", f"--wsrep-provider={PROVIDER}",
        "--wsrep-cluster-name=wax", f"--wsrep-cluster-address=gcomm://{'' if first else group}",
        "--wsrep-node-address=127.0.0.1", "--wsrep-sst-method=rsync", f"--wsrep-provider-options={provider}",
        f"--wsrep-sst-receive-address=127.0.0.1:{n + 70}", *(["--wsrep-new-cluster"] if first else []),
        ready=("SHOW STATUS LIKE 'wsrep_local_state_comment'", "Synced"),
    )  # fmt: skip


def _killed_and_back(nodes: list[Server], keys: list[str], water: str) -> bool:
    """Writers over both apps while one node is killed and comes back; every acknowledged row on every node."""
    acknowledged: list[str] = []
    told: dict[int, int] = {}
    stop = threading.Event()

    def write(number: int) -> None:
        while not stop.is_set():
            note = f"bench-{secrets.token_hex(6)}"
            body = {"readings": [{"date": "2026-05-01", "visibility_in": 30, "note": note}]}
            key = secrets.choice(keys)  # each may ask so often and no more
            status, _ = ask(APPS[number % 2], f"/api/waters/{water}/readings", key, body)
            told[status] = told.get(status, 0) + 1
            if status == 201:
                acknowledged.append(note)
            time.sleep(0.25 if status == 429 else 0.02)

    writers = [threading.Thread(target=write, args=(number,)) for number in range(WRITERS)]
    for writer in writers:
        writer.start()
    time.sleep(ROUND_S / 3)
    nodes[0].kill()
    during = len(acknowledged)
    time.sleep(ROUND_S)
    went_on = len(acknowledged) - during
    start = time.monotonic()
    _join(nodes[0])
    back = time.monotonic() - start
    time.sleep(ROUND_S / 3)
    stop.set()
    for writer in writers:
        writer.join()
    lost = [
        note for note in acknowledged for node in nodes
        if node.ask(f"SELECT COUNT(*) FROM wax.waters_reading WHERE note = '{note}'") != "1"
    ]  # fmt: skip
    print(f"     {len(acknowledged)} acknowledged, {went_on} while a node was dead; it was back after {back:.0f} s; "
          f"lost on any node: {len(lost)}; answers {dict(sorted(told.items()))}")  # fmt: skip
    return not lost and went_on > 0


def _same_row(key: str, water: str) -> bool:
    """Two writes of one owner through two nodes at once, over and over: each taken or refused in words."""
    told: dict[int, int] = {}

    def write(port: int) -> None:
        body = {"readings": [{"date": "2026-05-01", "visibility_in": 30}]}
        status, _ = ask(port, f"/api/waters/{water}/readings", key, body)
        told[status] = told.get(status, 0) + 1

    for _ in range(24):
        both = [threading.Thread(target=write, args=(port,)) for port in APPS]
        for one in both:
            one.start()
        for one in both:
            one.join()
    print(f"     two writes at once through two nodes, 24 times: answers {dict(sorted(told.items()))}")
    return not any(status >= 500 or status == 0 for status in told)
