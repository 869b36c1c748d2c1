# Words on the terminal: what is being done, and how it can fail.

say() { printf '%s\n' "· $*"; }

# What ends with this status has had its word already; ./wax itself then ends with 1.
SPOKEN=97

fail() { printf '%s\n' "wax: $*" >&2; exit "$SPOKEN"; }

STEP= # where a command failed last that nothing caught
AT_EXIT=() AT_LEVEL=0

# at_exit COMMAND: done whatever ends this shell, or the ( ) that it is called in
at_exit() {
  [ "$AT_LEVEL" = "$BASH_SUBSHELL" ] || AT_EXIT=() AT_LEVEL=$BASH_SUBSHELL
  AT_EXIT+=("$1")
  trap finish EXIT
}

# finish: no end without a word
finish() {
  local status=$? command
  trap - ERR
  set +e
  for command in "${AT_EXIT[@]}"; do eval "$command"; done
  if [ "$status" -ne 0 ] && [ "$status" -ne "$SPOKEN" ] && [ -n "$STEP" ]; then
    printf '%s\n' "wax: ended with status $status at $STEP" >&2
    [ "$BASH_SUBSHELL" -eq 0 ] || status=$SPOKEN
  fi
  [ "$status" -ne "$SPOKEN" ] || [ "$BASH_SUBSHELL" -gt 0 ] || status=1
  exit "$status"
}

set -E
trap 'STEP="${BASH_SOURCE[0]#"$PWD"/}, line $LINENO: $BASH_COMMAND"' ERR
trap finish EXIT

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
