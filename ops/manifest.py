"""What a backup holds, told and checked: its version, its tables with their rows, and the mark of its SQL.

manifest.py count OPTIONS NAME    tables and rows of a database, as JSON
manifest.py write FOLDER          the manifest of wax.sql there, held against `before` and `after` it was written
manifest.py check FOLDER          wax.sql against manifest.json, and settings.env as data
manifest.py restored FOLDER       the tables restored (`after`) against wax.sql
"""

import hashlib
import json
import re
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

FORMAT = 2
TABLE = re.compile(rb"CREATE TABLE `([^`]+)`")
ROWS = re.compile(rb"INSERT INTO `([^`]+)` VALUES")
SETTING = re.compile(r"WAX_[A-Z0-9_]+=.*|#.*|\s*")


class Wrong(Exception):
    """Why a backup is not kept, or not restored."""


def count(options: str, name: str) -> dict[str, int]:
    """The tables of a database and how many rows each has."""
    from MySQLdb import connect

    database = connect(read_default_file=options, db=name)
    cursor = database.cursor()
    cursor.execute("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY 1")
    found = {}
    for (table,) in cursor.fetchall():
        cursor.execute(f"SELECT COUNT(*) FROM `{table}`")  # noqa: S608 - a name that the database itself told
        found[table] = cursor.fetchone()[0]
    return found


def written(sql: Path) -> tuple[dict[str, int], str]:
    """The tables that SQL makes and how many rows it puts into each; and its mark."""
    tables: dict[str, int] = {}
    mark, into = hashlib.sha256(), ""
    with sql.open("rb") as file:
        for line in file:
            mark.update(line)
            if line.startswith(b"(") and into:
                tables[into] += 1
            elif made := TABLE.match(line):
                tables[made[1].decode()] = 0
                into = ""
            else:
                rows = ROWS.match(line)
                into = rows[1].decode() if rows else ""
    return tables, mark.hexdigest()


def write(folder: Path) -> dict[str, Any]:
    """The manifest of a dump. Raises Wrong where it does not hold what the database held."""
    before, after = (json.loads((folder / name).read_text()) for name in ("before", "after"))
    tables, mark = written(folder / "wax.sql")
    if not before:
        raise Wrong("the database has no tables: there is nothing to keep")
    if lost := sorted(set(before) - set(tables)):
        raise Wrong(f"the dump lacks {', '.join(lost)}")
    for table, rows in before.items():
        still = rows == after.get(table)  # where others wrote meanwhile, the moment of the dump lies between
        if (still and tables[table] != rows) or (rows and after.get(table) and not tables[table]):
            raise Wrong(f"the dump has {tables[table]} rows of {table}, the database {rows}")
    return {"format": FORMAT, "made": datetime.now(UTC).isoformat(timespec="seconds"), "sha256": mark, "tables": tables}


def check(folder: Path) -> None:
    """Raises Wrong where the parts of a backup are not what its manifest says."""
    for number, line in enumerate((folder / "settings.env").read_text().splitlines(), 1):
        if not SETTING.fullmatch(line):
            raise Wrong(f"its settings.env, line {number}, is not a setting")
    about = (folder / "about").read_text().strip()
    tables, mark = written(folder / "wax.sql")
    if not tables:
        raise Wrong("it has no tables")
    if about == "wax-crate-backup 1":  # of before there were manifests
        return
    if about != f"wax-crate-backup {FORMAT}":
        raise Wrong("it is of a form that this version does not read")
    told = json.loads((folder / "manifest.json").read_text())
    if told.get("format") != FORMAT or told.get("sha256") != mark or told.get("tables") != tables:
        raise Wrong("it is not as it was written: its tables are not those of its manifest")


def restored(folder: Path) -> None:
    """Raises Wrong where what was restored is not what the SQL holds."""
    tables, _ = written(folder / "wax.sql")
    now = json.loads((folder / "after").read_text())
    if now != tables:
        different = sorted(table for table in {*now, *tables} if now.get(table) != tables.get(table))
        raise Wrong(f"{', '.join(different[:5])} came back otherwise")


def main(what: str, where: str, *more: str) -> int:
    try:
        if what == "count":
            print(json.dumps(count(where, *more)))
        elif what == "write":
            print(json.dumps(write(Path(where))))
        else:
            {"check": check, "restored": restored}[what](Path(where))
    except (Wrong, OSError, ValueError) as wrong:
        print(f"wax: {wrong}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
