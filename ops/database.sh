# A private MariaDB on loopback: its own folder, socket and port, run by this folder alone.

[ -n "${WAX_DB_PORT:-}" ] || unset WAX_DB_PORT
DATABASE_PORT=${WAX_DB_PORT:-$((PORT > 65530 ? PORT - 5 : PORT + 3))}
a_port WAX_DB_PORT "$DATABASE_PORT"
SYSTEM_USER=wax-crate

# Where the data is: in var/, unless root runs this and the database's own user cannot get through to there.
database_folder() {
  if [ "$(id -u)" -ne 0 ] || reachable "$PWD"; then printf '%s' "$PWD/var/database"
  else printf '%s' "/var/lib/wax-crate-$(printf %s "$PWD" | sha256sum | cut -c 1-12)"; fi
}

reachable() { setpriv --reuid="$(database_user)" --clear-groups test -x "$1" 2>/dev/null; }

# Whether there is a database to go on with: somebody else's is looked after by who runs it.
database_running() { ! own_database || running "$(database_folder)/wax.pid" >/dev/null; }

# The socket is named relative to the data folder: a deep clone would exceed the length a socket's path may have.
database_shell() { (cd "$1" && mariadb --no-defaults --socket=wax.sock); }

# Who the server runs as: never root.
database_user() {
  if [ "$(id -u)" -ne 0 ]; then id -un; return; fi
  id "$SYSTEM_USER" >/dev/null 2>&1 ||
    useradd --system --user-group --home-dir /nonexistent --shell /usr/sbin/nologin "$SYSTEM_USER" >&2 ||
    fail "making the system user $SYSTEM_USER failed"
  printf %s "$SYSTEM_USER"
}

own() { if [ "$(id -u)" -eq 0 ]; then chown -R "$(database_user):" "$1"; fi; }

# own_temporary FOLDER: a database that starts clears the temporary tables where it keeps its own, so that two in one
# place would take them from each other
own_temporary() {
  mkdir -p "$1/wax-tmp"
  chmod 700 "$1/wax-tmp"
  own "$1/wax-tmp"
  (cd "$1/wax-tmp" && pwd)
}

# make_database FOLDER: in place only once it is whole, so that an interruption leaves nothing half made
make_database() {
  local new="$1.new"
  rm -rf "$new"
  mkdir -p "$new"
  chmod 700 "$new"
  own "$new"
  # --rpm: it is not to change the owner of any file of the system's
  (cd "$new" && TMPDIR=$(own_temporary "$PWD") mariadb-install-db --no-defaults --rpm --user="$(database_user)" \
    --datadir=. --auth-root-authentication-method=socket --auth-root-socket-user="$(id -un)" --skip-test-db \
    --skip-name-resolve --innodb-log-file-size=48M) >var/database.log 2>&1 ||
    fail "making the database failed; the last lines of var/database.log:
$(tail -n 5 var/database.log)"
  own "$new"
  rm -rf "$1"
  mv "$new" "$1"
}

# run_database FOLDER PORT SETTINGS...: returns 0 once it answers, 1 where it ended before
run_database() {
  local folder=$1 port=$2 pid temporary
  shift 2
  temporary=$(own_temporary "$folder")
  # setsid: Ctrl-C goes to the web server, and the database is stopped after it.
  (cd "$folder" && exec setsid mariadbd --no-defaults --user="$(database_user)" --datadir=. --socket=wax.sock \
    --tmpdir="$temporary" --ignore-db-dirs=wax-tmp --port="$port" --bind-address=127.0.0.1 \
    --pid-file="$folder/wax.pid" --log-error=wax.log --skip-name-resolve \
    --skip-log-bin --character-set-server=utf8mb4 --innodb-log-file-size=48M --performance-schema=OFF \
    --sql-mode=STRICT_TRANS_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION --default-time-zone=+00:00 \
    --transaction-isolation=READ-COMMITTED "$@") </dev/null >>var/database.log 2>&1 9>&- &
  pid=$!
  until database_shell "$folder" <<<'SELECT 1' >/dev/null 2>&1; do
    kill -0 "$pid" 2>/dev/null || return 1
    sleep 0.1
  done
}

database_failed() {
  fail "the database did not start; the last lines of its logs:
$(tail -n 5 var/database.log 2>/dev/null)
$(tail -n 5 "$1/wax.log" 2>/dev/null)"
}

start_database() {
  local folder
  own_database || return 0
  export WAX_DB_PORT=$DATABASE_PORT
  folder=$(database_folder)
  if database_running; then
    until database_shell "$folder" <<<'SELECT 1' >/dev/null 2>&1; do
      database_running || database_failed "$folder"
      sleep 0.1
    done
  else
    if port_taken "$DATABASE_PORT"; then
      fail "port $DATABASE_PORT, which the database wants, is in use; free it, or set WAX_DB_PORT to another"
    fi
    if [ ! -d "$folder/mysql" ]; then
      enough_disk 400
      say "Making a private database ($folder)"
      make_database "$folder"
    fi
    own "$folder"
    rotate "$folder/wax.log"
    say "Starting the database on 127.0.0.1:$DATABASE_PORT"
    run_database "$folder" "$DATABASE_PORT" --innodb-flush-log-at-trx-commit=1 || database_failed "$folder"
  fi
  started "$folder/wax.pid"
  make_app_user "$folder"
}

# Each time: the user may not be there yet, or have another password than the settings.
make_app_user() {
  local password=${WAX_DB_PASSWORD//\'/}
  database_shell "$1" <<SQL || fail "making the database's user failed"
CREATE DATABASE IF NOT EXISTS wax CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
CREATE USER IF NOT EXISTS wax@127.0.0.1, wax@localhost;
ALTER USER wax@127.0.0.1 IDENTIFIED BY '$password', wax@localhost IDENTIFIED BY '$password';
GRANT ALL ON wax.* TO wax@127.0.0.1, wax@localhost;
SQL
}

stop_database() {
  own_database && database_running || return 0
  say "Stopping the database"
  end "$(database_folder)/wax.pid"
}
