# ./wax demo and ./wax serve: from a fresh clone to a running server.

# prepare: whatever happens from here on, what was started is ended with this command
prepare() {
  one_at_a_time
  if server_running; then
    database_running && fail "it is running already, on http://127.0.0.1:$PORT/ (./wax stop ends it)"
    say "The server is running, its database is not"
    start_database
    exit 0
  fi
  if port_taken "$PORT"; then fail "port $PORT is in use by another program; free it, or set WAX_PORT to another"; fi
  need_everything
  trap 'trap "" INT TERM; end_started "$SERVER_PID" "$WORKER_PID" "$DEVICES_PID" "$(database_folder)/wax.pid"' EXIT
  start_database
  before_an_upgrade
  "$(python_of run)" -m web prepare
}

# before_an_upgrade: what is stored is kept as a file before a new version changes its tables
before_an_upgrade() {
  local ahead
  ahead=$("$(python_of run)" -m web ahead) || fail "the database does not answer"
  [ -n "$ahead" ] || return 0
  say "A new version: what is stored is kept first"
  mkdir -p var/backups
  (keep_backup "$PWD/var/backups/before-$(date -u +%Y%m%d-%H%M%S).backup" "")
  printf '%s\n' "$ahead"
}

demo() {
  if [ "${1:-}" = --reset ]; then
    reset_all "${2:-}"
  elif [ $# -gt 0 ]; then
    fail "demo takes --reset, or nothing; not $*"
  fi
  export WAX_DEMO=1
  prepare
  start_devices
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
  end "$WORKER_PID"
  stop_database
  rm -rf "$folder" var/mail
  forget_secrets
}
