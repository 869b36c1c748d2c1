"""The kinds of heavy work, each with where its task stands: the rooms that do it lie above this one."""

from typing import Final

KINDS: Final = {
    "file": "web.intake.tasks.read_file",
    "corners": "web.intake.tasks.find_corners",
    "tray": "web.intake.tasks.read_picture",
    "plan": "web.plans.tasks.plan_all",
    "sure": "web.plans.tasks.draw_other_years",
    "record": "web.waters.tasks.read_water_record",
    "tide": "web.waters.tasks.read_tide",
    "paper": "web.work.papers.print_paper",
    "archive": "web.archive.tasks.write",
    "take-in": "web.archive.tasks.take_in",
}
