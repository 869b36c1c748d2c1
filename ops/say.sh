# Words on the terminal: what is being done, and how it can fail.

say() { printf '%s\n' "· $*"; }

fail() { printf '%s\n' "wax: $*" >&2; exit 1; }

# patiently COMMAND...: runs it, with a dot on the terminal every two seconds so that nobody thinks it hangs
patiently() {
  local ticker status=0
  if { : >/dev/tty; } 2>/dev/null; then
    while sleep 2; do printf .; done >/dev/tty 2>/dev/null 9>&- &
    ticker=$!
  fi
  "$@" || status=$?
  if [ -n "${ticker:-}" ]; then
    kill "$ticker" 2>/dev/null || true
    printf '\n' >/dev/tty
  fi
  return "$status"
}
