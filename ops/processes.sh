# The processes that this folder started: known by a pid file whose own name stands in their command line, so that
# no number that has passed to another process, and no zombie, is ever taken for one of ours.

# running PIDFILE: prints the process's number, where it runs
running() {
  local pid
  pid=$(cat "$1" 2>/dev/null) || return 1
  [[ $pid =~ ^[0-9]+$ ]] && grep -qsF -- "$1" "/proc/$pid/cmdline" && printf '%s' "$pid"
}

# end PIDFILE: asks the process to end, and returns once it has
end() {
  local pid try
  pid=$(running "$1") || return 0
  kill "$pid" 2>/dev/null || fail "process $pid is somebody else's: end it as the user who started it"
  for ((try = 0; try < 600; try++)); do
    running "$1" >/dev/null || return 0
    sleep 0.1
  done
  fail "process $pid does not end (it has had a minute)"
}

# What this very command started, or took over: another ./wax may have started its own since, which are not ours to end.
declare -A STARTED=()

# started PIDFILE
started() { STARTED[$1]=$(running "$1" || true); }

# end_started PIDFILE...
end_started() {
  local file
  for file in "$@"; do
    if [ -n "${STARTED[$file]:-}" ] && [ "$(running "$file")" = "${STARTED[$file]}" ]; then end "$file"; fi
  done
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# one_at_a_time: waits until no other ./wax of this folder is preparing; what is started does not inherit the lock
one_at_a_time() {
  make_var
  exec 9>var/wax.lock
  flock -n 9 && return 0
  say "Another ./wax is at work in this folder: waiting for it"
  flock -w 900 9 || fail "the other ./wax in this folder has not finished in a quarter of an hour"
}

let_others() { exec 9>&-; }

# make_var: what is stored lives here; one owner for all of it
make_var() {
  local owner me
  me=$(id -un)
  mkdir -p var 2>/dev/null ||
    fail "cannot write to $PWD, which belongs to $(stat -c %U .): run ./wax as that user, or copy the folder to where you may write"
  owner=$(stat -c %U var)
  if [ "$owner" != "$me" ]; then
    if [ "$me" = root ]; then fail "var/ belongs to $owner, who ran ./wax before: run it as $owner, without sudo"; fi
    fail "var/ belongs to $owner: ./wax was run with sudo before. Go on with sudo, or make it yours:
  sudo chown -R $me var"
  fi
  [ -w var ] || fail "cannot write to $PWD/var: run ./wax as the user whom this folder belongs to, where it may be written"
  # The database's own user has to get through as far as its folder, and no farther.
  if [ "$me" = root ]; then chmod 711 var; fi
}

# rotate FILE: a log past ten megabytes is set aside; its writer, which appends, goes on
rotate() {
  [ -f "$1" ] && [ "$(stat -c %s "$1")" -gt 10000000 ] || return 0
  cp "$1" "$1.1"
  : >"$1"
}
