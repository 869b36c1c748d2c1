"""All commands that answer JSON with JSON, by name: for the command line, and for whoever else asks them."""

from __future__ import annotations

from collections.abc import Mapping

from tackle.commands.advise import advise
from tackle.commands.audit import audit_answer
from tackle.commands.day import day
from tackle.commands.learn import learn
from tackle.commands.lines import Command
from tackle.commands.lures import lures
from tackle.commands.plan import plan
from tackle.commands.sight import sight
from tackle.commands.turns import turns

__all__ = ["COMMANDS"]

COMMANDS: Mapping[str, Command] = {
    "advise": advise,
    "plan": plan,
    "audit": audit_answer,
    "lures": lures,
    "day": day,
    "sight": sight,
    "learn": learn,
    "turns": turns,
}
