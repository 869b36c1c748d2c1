# ./wax demo and ./wax serve: from a fresh clone to a running server.

prepare() {
  if server_running; then fail "it is running already, on http://127.0.0.1:$PORT/ (./wax stop ends it)"; fi
  if port_taken "$PORT"; then fail "port $PORT is in use by another program; free it, or set WAX_PORT to another"; fi
  need_everything run
  start_database
  load_settings
  say "Bringing the tables up to date"
  "$(python_of run)" -m web migrate --verbosity 0
  "$(python_of run)" -m web collectstatic --noinput --verbosity 0
}

demo() {
  if [ "${1:-}" = --reset ]; then
    reset_all "${2:-}"
  elif [ $# -gt 0 ]; then
    fail "demo takes --reset, or nothing; not $*"
  fi
  export WAX_DEMO=1
  prepare
  "$(python_of run)" -m web load_demo
  start_devices
  run_server "" "  Wax Crate is on http://127.0.0.1:$PORT/" \
    "  Sign in as wren with the password open-the-crate" \
    "  Ctrl-C, or ./wax stop from elsewhere, ends it" ""
}

serve() {
  [ $# -eq 0 ] || fail "serve takes no arguments"
  prepare
  run_server "" "  Wax Crate is on http://127.0.0.1:$PORT/" ""
}

reset_all() {
  if [ "$1" != --yes ]; then
    [ -t 0 ] || fail "--reset asks before it deletes; where nobody can answer, say: ./wax demo --reset --yes"
    read -rp "Delete everything stored in var/database, and start over? [y/N] " answer
    [ "$answer" = y ] || [ "$answer" = Y ] || fail "nothing was deleted"
  fi
  stop_server
  stop_database
  rm -rf "$DATABASE" var/settings.env var/mail
}
