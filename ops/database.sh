# A private MariaDB on loopback: its own folder, socket and port, run by this folder alone.

DATABASE=$PWD/var/database
DATABASE_PORT=${WAX_DB_PORT:-8043}

database_running() {
  local pid
  pid=$(cat "$DATABASE/wax.pid" 2>/dev/null) || return 1
  kill -0 "$pid" 2>/dev/null && grep -qs mariadbd "/proc/$pid/cmdline"
}

# The socket is named relative to the data folder: a deep clone would exceed the length a socket's path may have.
database_shell() { (cd "$1" && mariadb --no-defaults --socket=wax.sock); }

# Who the server runs as. As root it drops to mysql, unless that user cannot reach this folder.
database_user() {
  if [ "$(id -u)" -ne 0 ]; then id -un
  elif setpriv --reuid=mysql --regid=mysql --clear-groups test -x "$PWD" 2>/dev/null; then echo mysql
  else echo root; fi
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# make_database FOLDER
make_database() {
  local user
  user=$(database_user)
  mkdir -p "$1"
  chmod 700 "$1"
  if [ "$(id -u)" -eq 0 ]; then chown "$user" "$1"; fi
  mariadb-install-db --no-defaults --user="$user" --datadir="$1" --auth-root-authentication-method=socket \
    --auth-root-socket-user="$(id -un)" --skip-test-db --skip-name-resolve --innodb-log-file-size=48M >var/database.log 2>&1 ||
    fail "making the database failed; the last lines of var/database.log:
$(tail -n 5 var/database.log)"
}

# run_database FOLDER PORT SETTINGS...: returns once it answers
run_database() {
  local folder=$1 port=$2 try
  shift 2
  # setsid: Ctrl-C goes to the web server, and the database is stopped after it.
  setsid mariadbd --no-defaults --user="$(database_user)" --datadir="$folder" --socket=wax.sock --port="$port" \
    --bind-address=127.0.0.1 --pid-file="$folder/wax.pid" --log-error="$folder/wax.log" --skip-name-resolve \
    --skip-log-bin --character-set-server=utf8mb4 --innodb-log-file-size=48M --performance-schema=OFF \
    --sql-mode=STRICT_TRANS_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION --default-time-zone=+00:00 \
    --transaction-isolation=READ-COMMITTED "$@" </dev/null >/dev/null 2>&1 &
  for ((try = 0; try < 200; try++)); do
    database_shell "$folder" <<<'SELECT 1' >/dev/null 2>&1 && return 0
    sleep 0.1
  done
  fail "the database did not start; the last lines of its log:
$(tail -n 5 "$folder/wax.log" 2>/dev/null)"
}

start_database() {
  if database_running; then return 0; fi
  if port_taken "$DATABASE_PORT"; then
    fail "port $DATABASE_PORT, which the database wants, is in use; free it, or set WAX_DB_PORT to another"
  fi
  enough_disk 400
  if [ ! -d "$DATABASE/mysql" ]; then
    say "Making a private database (var/database)"
    make_database "$DATABASE"
  fi
  say "Starting the database on 127.0.0.1:$DATABASE_PORT"
  run_database "$DATABASE" "$DATABASE_PORT" --innodb-flush-log-at-trx-commit=1
  [ -f "$DATABASE/wax.made" ] || make_app_user
}

make_app_user() {
  local password
  password=$(sed -n 's/^WAX_DB_PASSWORD=//p' var/settings.env)
  database_shell "$DATABASE" <<SQL || fail "making the database's user failed"
CREATE DATABASE IF NOT EXISTS wax CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
CREATE USER IF NOT EXISTS wax@127.0.0.1, wax@localhost;
ALTER USER wax@127.0.0.1 IDENTIFIED BY '$password', wax@localhost IDENTIFIED BY '$password';
GRANT ALL ON wax.* TO wax@127.0.0.1, wax@localhost;
SQL
  touch "$DATABASE/wax.made"
}

# stop_database [FOLDER]
stop_database() {
  local folder=${1:-$DATABASE} pid
  pid=$(cat "$folder/wax.pid" 2>/dev/null) || return 0
  grep -qs mariadbd "/proc/$pid/cmdline" || return 0
  say "Stopping the database"
  kill "$pid"
  while kill -0 "$pid" 2>/dev/null; do sleep 0.1; done
}
