# The web server on loopback, with this folder's settings.

[ -n "${WAX_PORT:-}" ] || unset WAX_PORT # said but empty is not said
PORT=${WAX_PORT:-8040}
a_port() { [[ $2 =~ ^[1-9][0-9]{0,4}$ && $2 -le 65535 ]] || fail "$1 is \"$2\"; a port is a number from 1 to 65535"; }
a_port WAX_PORT "$PORT"
SERVER_PID=$PWD/var/server.pid
SERVER= # the process that this command began

# need_ports: two of our own, which whoever runs this may open
need_ports() {
  local first=0
  own_database && [ "$PORT" = "$DATABASE_PORT" ] &&
    fail "WAX_PORT and WAX_DB_PORT are both $PORT: the pages and the database need a port each"
  [ "$(id -u)" -eq 0 ] || first=$(cat /proc/sys/net/ipv4/ip_unprivileged_port_start 2>/dev/null || echo 1024)
  [ "$PORT" -ge "$first" ] || fail "WAX_PORT is $PORT; a port below $first takes root: set it to $first or more"
  ! own_database || [ "$DATABASE_PORT" -ge "$first" ] ||
    fail "WAX_DB_PORT is $DATABASE_PORT; a port below $first takes root: set it to $first or more"
}

server_running() { running "$SERVER_PID" >/dev/null; }

stop_server() {
  server_running || return 0
  say "Stopping the server"
  end "$SERVER_PID"
}

stop_all() {
  server_running || database_running || say "Nothing is running"
  stop_server
  stop_workers
  stop_devices
  stop_database
}

# run_server WORDS...: serves until Ctrl-C or ./wax stop, saying WORDS once it answers; brings the database back
# where it has ended meanwhile
run_server() {
  local try
  [ -n "$SERVER" ] || begin_server
  trap 'trap "" INT TERM; printf "\n"; kill "$SERVER" 2>/dev/null || true' INT TERM
  for ((try = 0; try < 1200; try++)); do
    # Its queue may be full of what no process has taken yet: that is begun below.
    health_is_ours '"database": "well", "tables": "well"' && break
    kill -0 "$SERVER" 2>/dev/null || server_failed
    sleep 0.05
  done
  if ((try == 1200)); then
    health_is_ours || server_failed
    say "It answers, but not all is well: http://127.0.0.1:$PORT/health says what"
  fi
  started "$SERVER_PID"
  start_workers
  let_others
  printf '%s\n' "$@"
  while kill -0 "$SERVER" 2>/dev/null; do
    sleep 2 &
    wait -n "$SERVER" $! || true
    if [ "$(running "$SERVER_PID")" = "$SERVER" ] && ! database_running; then
      say "The database has ended: starting it again"
      (start_database) || sleep 5
      started "$(database_folder)/wax.pid"
    fi
    start_workers # where one has ended
    rotate var/server.log
  done
}

# begin_server: it loads the app, once for all its workers, while the database starts beside it
begin_server() {
  rotate var/server.log
  # What this run answers with on its health page, so that no other program on this port is taken for it.
  WAX_RUN=$(od -An -N8 -tx8 /dev/urandom | tr -d ' ')
  export WAX_RUN WAX_PARTS=$PWD/var/parts WAX_DB_PORT=$DATABASE_PORT
  # Its number may have passed to another process since: the server would take that for itself.
  rm -f "$SERVER_PID"
  # Counts of all workers together, and parts of pages that they have drawn; each run of the server begins at nought.
  rm -rf var/metrics var/parts && mkdir -p var/metrics var/parts
  PROMETHEUS_MULTIPROC_DIR=$PWD/var/metrics "$(python_of run)" -m web.common.serving.server --bind "127.0.0.1:$PORT" \
    --workers 2 --threads 4 --pid "$SERVER_PID" >>var/server.log 2>&1 9>&- &
  SERVER=$!
}

# health_is_ours [WORDS]: whether it is this run that answers on the port, and not somebody else's program, with WORDS
health_is_ours() {
  local told
  told=$(timeout 5 bash -c 'exec 3<>"/dev/tcp/127.0.0.1/$1" && printf "$2" >&3 && cat <&3' -- "$PORT" \
    "GET /health HTTP/1.1\r\nHost: $(printf %s "${WAX_HOSTS:-127.0.0.1}" | cut -d , -f 1)\r\nX-Forwarded-Proto: https\r\nConnection: close\r\n\r\n" 2>/dev/null) || return 1
  [[ $told == *"\"run\": \"$WAX_RUN\""* && $told == *"${1:-}"* ]]
}

server_failed() {
  fail "the server did not start; the last lines of var/server.log:
$(tail -n 5 var/server.log 2>/dev/null)"
}
