# ./wax demo and ./wax serve: from a fresh clone to a running server.

# prepare [FIRST]: whatever happens from here on, what was started is ended with this command; FIRST is done before the
# server begins
prepare() {
  need_ports
  one_at_a_time
  if server_running; then
    database_running && fail "it is running already, on http://127.0.0.1:$PORT/ (./wax stop ends it)"
    say "The server is running, its database is not"
    start_database
    exit 0
  fi
  if port_taken "$PORT"; then fail "port $PORT is in use by another program; free it, or set WAX_PORT to another"; fi
  need_everything
  at_exit 'trap "" INT TERM; [ -z "$SERVER" ] || kill "$SERVER" 2>/dev/null || true
    end_started "$SERVER_PID" "${WORKER_PIDS[@]}" "$DEVICES_PID" "$(database_folder)/wax.pid"'
  ${1:-}
  if up_to_date; then
    begin_server
    start_database
  else
    start_database
    bring_up_to_date
  fi
}

# up_to_date: whether the files of this version are those with which this database was brought up to date last
up_to_date() { own_database && [ -d var/static ] && [ "$(cat "$(database_folder)/up-to-date" 2>/dev/null)" = "$(mark_of_version)" ]; }

mark_of_version() {
  printf '%s ' "${WAX_DEMO:-}"
  find web -type f \( -path '*/migrations/*.py' -o -path '*/static/*' -o -path 'web/demo/*.py' -o -path 'web/demo/*.toml' \) \
    -printf '%p %s %T@\n' | sort | sha256sum
}

# bring_up_to_date: tables, static files and demo data; what is stored is kept as a file before its tables are changed
bring_up_to_date() {
  local status=0
  "$(python_of run)" -m web prepare || status=$?
  if [ "$status" -eq 3 ]; then # tables are to be changed: it has said which
    say "What is stored is kept first"
    mkdir -p var/backups
    (keep_backup "$PWD/var/backups/before-$(date -u +%Y%m%d-%H%M%S).backup" "")
    status=0
    "$(python_of run)" -m web prepare --kept || status=$?
  fi
  [ "$status" -eq 0 ] || fail "the tables could not be brought up to date"
  ! own_database || mark_of_version >"$(database_folder)/up-to-date"
}

demo() {
  if [ "${1:-}" = --reset ]; then
    reset_all "${2:-}"
  elif [ $# -gt 0 ]; then
    fail "demo takes --reset, or nothing; not $*"
  fi
  export WAX_DEMO=1
  prepare start_devices
  run_server "" "  Wax Crate is on http://127.0.0.1:$PORT/" \
    "  Sign in as wren with the password open-the-crate" \
    "  Ctrl-C, or ./wax stop from elsewhere, ends it" ""
}

serve() {
  [ $# -eq 0 ] || fail "serve takes no arguments"
  case ${WAX_HTTPS:-} in
    '' | 0 | false | no | off) ;;
    *) [ -n "${WAX_PROXY:-}" ] ||
      fail "WAX_HTTPS is set, and WAX_PROXY is not: name the address of the server before this one (127.0.0.1 where it
runs on this machine), or every visitor would count as that server" ;;
  esac
  prepare
  run_server "" "  Wax Crate is on http://127.0.0.1:$PORT/" ""
}

reset_all() {
  local folder
  folder=$(database_folder)
  if [ "$1" != --yes ]; then
    [ -t 0 ] || fail "--reset asks before it deletes; where nobody can answer, say: ./wax demo --reset --yes"
    read -rp "Delete everything stored in $folder, and start over? [y/N] " answer
    [ "$answer" = y ] || [ "$answer" = Y ] || fail "nothing was deleted"
  fi
  stop_server
  stop_workers
  stop_database
  rm -rf "$folder" var/mail
  forget_secrets
}
