"""The kinds of heavy work, each with where its task stands: the rooms that do it lie above this one."""

from typing import Final

KINDS: Final = {
    "file": "web.pages.intake.tasks.read_file",
    "corners": "web.pages.intake.tasks.find_corners",
    "tray": "web.pages.intake.tasks.read_picture",
    "plan": "web.domain.plans.tasks.plan_all",
    "sure": "web.domain.plans.tasks.draw_other_years",
    "record": "web.domain.waters.tasks.read_water_record",
    "tide": "web.domain.waters.tasks.read_tide",
    "paper": "web.common.work.papers.print_paper",
    "archive": "web.pages.archive.tasks.write",
    "take-in": "web.pages.archive.tasks.take_in",
}
