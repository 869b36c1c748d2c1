"""How MariaDB's own programs reach the database of WAX_DATABASE_URL, as an option file:
python -m web.common.database.client.

The first host that answers is told; with `name`, only what the database is called. Exit status 1 where none answers.
"""

import os
import sys

from MySQLdb import Error, connect

from web.common.database.url import CONNECT_S, database_at


def option_file(url: str) -> str:
    """The option file. Raises MySQLdb's Error of the last host where none answers, and ValueError for a wrong line."""
    data = database_at(url, patient=True)
    login = {"user": data["USER"], "password": data["PASSWORD"]}
    tls = {f"ssl-{name}": file for name, file in data["OPTIONS"].get("ssl", {}).items()}
    for index, (host, port) in enumerate(data["HOSTS"], 1):
        try:
            connect(
                host=host, port=port, connect_timeout=CONNECT_S, ssl=data["OPTIONS"].get("ssl"),
                db=data["NAME"], **login,
            ).close()  # fmt: skip
        except Error:
            if index == len(data["HOSTS"]):
                raise
            continue
        lines = {"host": host, "port": port, "protocol": "tcp", **login, **tls}
        return "[client]\n" + "".join(f'{name}="{_escaped(str(value))}"\n' for name, value in lines.items())
    raise ValueError("no host is told")


def _escaped(value: str) -> str:
    return value.replace("\\", "\\\\").replace('"', '\\"')


def main(arguments: list[str]) -> int:
    url = os.environ.get("WAX_DATABASE_URL", "")
    try:
        print(database_at(url)["NAME"] if arguments == ["name"] else option_file(url), end="")
    except (Error, ValueError) as error:
        print(f"wax: {error}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
