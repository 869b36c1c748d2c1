"""The commands as others run them: lines in, lines out, and the exit status."""

import json
import os
import subprocess
from pathlib import Path

ROOT = Path(__file__).parent.parent.parent


def wax(command, *requests, raw=""):
    lines = raw or "".join(json.dumps(request) + "\n" for request in requests)
    run = subprocess.run([ROOT / "wax", command], input=lines, capture_output=True, text=True, env=os.environ)
    return run.returncode, [json.loads(line) for line in run.stdout.splitlines()], run.stderr


def worm(visibility_in, light="bright", **more):
    return {"category": "worm", "visibility_in": visibility_in, "light": light, **more}


def test_advise_answers_in_order_school_by_school():
    status, (one, two), _ = wax("advise", {"id": "a", "situation": worm(48)}, {"id": "b", "situation": worm(62)})
    assert status == 0
    assert [one["id"], two["id"]] == ["a", "b"]
    first = one["verdicts"]["ladder"][0]
    assert first["grade"] == "go-to"
    assert first["traits"]["tone"] == "green-pumpkin"
    assert first["reason"].endswith(".")
    assert two["verdicts"]["ladder"][-1]["grade"] == "avoid"


def test_commands_end_quietly_where_nobody_reads_on():
    many = "".join(json.dumps({"id": n, "situation": worm(48)}) + "\n" for n in range(400))
    for command, lines in (("advise", many), ("rules --table", "")):
        run = subprocess.run(
            ["bash", "-c", f"'{ROOT}/wax' {command} | head -n 1"],
            input=lines,
            capture_output=True,
            text=True,
            env=os.environ,
        )
        assert (run.stderr, run.stdout.count("\n")) == ("", 1)


def test_advise_refuses_a_line_and_goes_on():
    bad = {"id": "x", "situation": {**worm(48), "light": "noon"}}
    status, answers, _ = wax("advise", bad, {"id": "y", "situation": worm(48)})
    assert status == 1
    assert answers[0]["error"].startswith("situation.light: 'noon' is not allowed; allowed: one of bright")
    assert "verdicts" in answers[1]
    assert wax("advise", raw="{oops\n")[:2][0] == 1


def test_plan_answers_with_set_curve_and_order():
    days = [{"situation": worm(v), "days": d} for v, d in ((10, 10.5), (21, 5), (42, 20))]
    request = {"id": "p", "category": "worm", "schools": ["ladder"], "days": days, "owned": ["black-plain"]}
    status, (answer,), _ = wax("plan", request)
    assert status == 0
    assert answer["status"] == "optimal"
    assert sum(c["days"] for c in answer["colours"]) == answer["answered_days"] == answer["expected_days"] == 35.5
    assert {c["colour"] for c in answer["colours"] if c["owned"]} == {"black-plain"}
    assert answer["curve"][-1] == {**answer["curve"][-1], "colours": len(answer["colours"]), "days": 35.5}
    assert sum(step["adds"] for step in answer["order"]) == 35.5


def test_plan_leaves_out_and_reports_what_nothing_answers():
    days = [{"situation": worm(42, "low"), "days": 2}, {"situation": worm(42), "days": 3}]
    _, (answer,), _ = wax("plan", {"id": "p", "category": "worm", "schools": ["sheen"], "days": days})
    assert answer["answered_days"] == 3
    assert answer["unanswered"] == [{"index": 0, "days": 2, "why": "no-colour", "schools": ["sheen"]}]


def test_plan_with_trailers_answers_by_pairs():
    days = [{"situation": {"visibility_in": v, "light": "bright"}, "days": 2} for v in (10, 40)]
    request = {"id": "p", "category": "casting-jig", "schools": ["ladder"], "days": days, "with": "jig-trailer"}
    _, (answer, refused), _ = wax("plan", request, {**request, "category": "worm"})
    assert answer["answered_days"] == 4
    assert {pair["index"] for pair in answer["pairs"]} == {0, 1}
    assert {pair["trailer"] for pair in answer["pairs"]} <= {piece["colour"] for piece in answer["trailers"]}
    assert len(answer["colours"]) + len(answer["trailers"]) == answer["curve"][-1]["colours"] == 3
    assert refused["error"].startswith("with: worm takes no trailer")


def test_plan_says_what_it_does_not_know():
    base = {"id": "p", "category": "worm", "schools": ["ladder"], "days": []}
    _, answers, _ = wax(
        "plan",
        {**base, "schools": ["guesswork"]},
        {**base, "owned": ["mauve"]},
        {**base, "lock": ["black-plain"], "ban": ["black-plain"]},
        {**base, "lock": ["black-plain", "red-bug"], "at_most": 1},
        base,
    )
    assert [a.get("error", "").split(";")[0] for a in answers] == [
        "schools[0]: 'guesswork' is not allowed",
        "owned[0]: 'mauve' is not allowed",
        "lock: 'black-plain' is locked and banned",
        "at_most: 1 is fewer than the locked colours",
        "",
    ]


def test_a_wrong_call_is_status_2():
    run = subprocess.run([ROOT / "wax", "fish"], capture_output=True, text=True)
    assert run.returncode == 2
    assert "usage" in run.stderr


def test_one_request_has_one_answer_in_any_process(monkeypatch):
    lights = ("bright", "broken", "overcast", "low", "night")
    days = [{"situation": worm(v, light), "days": v / 7} for v in (6, 11, 20, 40, 90, 200) for light in lights]
    plan = {"id": "p", "category": "worm", "schools": ["ladder", "menu", "spark"], "agree": "all", "days": days}
    pairs = {**plan, "id": "j", "category": "casting-jig", "with": "jig-trailer"}
    pairs["days"] = [{**one, "situation": {**one["situation"], "category": "casting-jig"}} for one in days]
    lures = [
        {"ref": f"A{n}", "category": "worm", "colour": colour, "count": 3}
        for n, colour in enumerate(("black-plain", "watermelon-red", "red-bug", "green-pumpkin-plain"))
    ]
    told = []
    for seed in ("0", "1", "77"):
        monkeypatch.setenv("PYTHONHASHSEED", seed)
        _, answers, _ = wax("plan", plan, pairs)
        crate = {"id": "c", "lures": lures, "plans": answers[:1], "days": {"worm": days}, "schools": plan["schools"]}
        told.append((answers, wax("audit", crate)))
    assert told[0] == told[1] == told[2]
    assert told[0][0][0]["status"] == "optimal"


def test_pairs_come_with_an_order_that_adds_up():
    days = [
        {"situation": {**worm(v), "category": "casting-jig"}, "days": d} for v, d in ((10, 10.5), (42, 20), (90, 7))
    ]
    request = {"id": "p", "category": "casting-jig", "schools": ["ladder"], "days": days, "with": "jig-trailer"}
    _, (answer,), _ = wax("plan", request)
    assert sum(step["adds"] for step in answer["order"]) == answer["answered_days"]
    assert len(answer["order"]) == len(answer["colours"]) + len(answer["trailers"])
    assert all(piece["reason"] for piece in (*answer["colours"], *answer["trailers"]))
