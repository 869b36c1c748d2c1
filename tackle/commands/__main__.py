"""python -m tackle.commands advise|plan|audit|lures|day|turns|sight|learn < requests.jsonl

Exit status 0 when all was answered, 1 when some line was refused, 2 when the call itself was wrong.
"""

import sys

from tackle.base.errors import DataError
from tackle.base.pipes import ends_quietly
from tackle.commands.every import COMMANDS
from tackle.commands.lines import answer_lines
from tackle.commands.record import record
from tackle.commands.tray import tray


def main(arguments: list[str]) -> int:
    """Answers standard input line by line on standard output; returns the exit status."""
    if arguments[:1] == ["tray"]:
        return tray(arguments[1:])
    if arguments[:1] == ["record"]:
        return record(arguments[1:])
    if len(arguments) != 1 or arguments[0] not in COMMANDS:
        print(
            f"usage: wax {'|'.join(COMMANDS)} < requests.jsonl, or wax tray PICTURE, or wax record FILE",
            file=sys.stderr,
        )
        return 2
    try:
        return answer_lines(COMMANDS[arguments[0]], sys.stdin, sys.stdout)
    except DataError as error:
        print(f"A data file cannot be used. {error}", file=sys.stderr)
        return 2


if __name__ == "__main__":
    ends_quietly()
    sys.exit(main(sys.argv[1:]))
