import sys

from bench import evaluation

sys.exit(0 if evaluation.run() else 1)
