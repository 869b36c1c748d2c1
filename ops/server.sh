# The web server: gunicorn on loopback, with this folder's settings.

PORT=${WAX_PORT:-8040}

load_settings() {
  set -a
  . var/settings.env
  WAX_DB_PORT=$DATABASE_PORT
  set +a
}

server_running() {
  local pid
  pid=$(cat var/server.pid 2>/dev/null) || return 1
  kill -0 "$pid" 2>/dev/null && grep -qs gunicorn "/proc/$pid/cmdline"
}

stop_server() {
  local pid
  server_running || return 0
  pid=$(cat var/server.pid)
  say "Stopping the server"
  kill "$pid" 2>/dev/null || true
  while kill -0 "$pid" 2>/dev/null; do sleep 0.1; done
}

stop_all() {
  server_running || database_running || say "Nothing is running"
  stop_server
  stop_devices
  stop_database
}

# run_server WORDS...: serves until Ctrl-C or ./wax stop, saying WORDS once it answers
run_server() {
  local pid try
  "$(python_of run)" -m gunicorn web.wsgi --bind "127.0.0.1:$PORT" --workers 2 --pid var/server.pid --no-control-socket \
    --log-file var/server.log --access-logfile var/access.log --error-logfile var/server.log &
  pid=$!
  trap 'trap "" INT TERM; printf "\n"; kill "$pid" 2>/dev/null || true' INT TERM
  for ((try = 0; try < 100; try++)); do
    port_taken "$PORT" && break
    kill -0 "$pid" 2>/dev/null || fail_server
    sleep 0.1
  done
  ((try < 100)) || fail_server
  printf '%s\n' "$@"
  while kill -0 "$pid" 2>/dev/null; do wait "$pid" || true; done
  trap - INT TERM
  stop_devices
  stop_database
}

fail_server() {
  stop_devices
  stop_database
  fail "the server did not start; the last lines of var/server.log:
$(tail -n 5 var/server.log 2>/dev/null)"
}
