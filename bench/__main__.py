"""Timings and memory, each as a ratio to a baseline taken in the same run: ./wax bench [PART ...]."""

import importlib
import sys

import django

from bench.parts import PARTS

chosen = sys.argv[1:] or PARTS
if unknown := set(chosen) - set(PARTS):
    sys.exit(f"There is no {', '.join(sorted(unknown))}; parts are {', '.join(PARTS)}.")
django.setup()
good = [importlib.import_module(f"bench.{part}").run() for part in chosen]
sys.exit(0 if all(good) else 1)
