import sys

from bench import evaluation, waters

good = [part.run() for part in (evaluation, waters)]
sys.exit(0 if all(good) else 1)
