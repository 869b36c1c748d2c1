# ./wax install: units for systemd, and what the server before this one has to be told.

# A & in what takes the place of a pattern is that character, in every bash.
shopt -u patsub_replacement 2>/dev/null || true

# The units of systemd: for the whole machine as root, else for the user.
install_units() {
  local to=${1:-} unit file wanted=default.target
  case $PWD in *$'\n'*) fail "a folder with a line end in its name cannot stand in a unit" ;; esac
  if [ -z "$to" ]; then
    if [ "$(id -u)" -eq 0 ]; then to=/etc/systemd/system; else to=$HOME/.config/systemd/user; fi
  else
    to=$(from_caller "$to")
  fi
  [ "$(id -u)" -ne 0 ] || wanted=multi-user.target
  mkdir -p "$to" || fail "cannot make $to"
  for unit in ops/units/*; do
    filled "$unit" @FOLDER@ "$(for_systemd "$PWD")" @HERE@ "${PWD//%/%%}" @WANTED@ "$wanted" >"$to/$(basename "$unit")" || fail "cannot write into $to"
  done
  say "Written into $to: $(cd ops/units && printf '%s ' *)"
  write_proxies
  say "Start with: systemctl $([ "$(id -u)" -eq 0 ] || printf -- '--user ')enable --now wax-crate.service wax-crate-backup.timer"
  [ "$(id -u)" -eq 0 ] || say "So that it goes on when you are signed out: sudo loginctl enable-linger $(id -un)"
}

# write_proxies: the whole file for each of two common servers, with the name and the ports of this installation
write_proxies() {
  local file name
  name=${WAX_HOSTS:-wax.example.org}
  make_var
  mkdir -p var/proxy
  for file in ops/proxy/*; do
    filled "$file" @NAME@ "${name%%,*}" @PORT@ "$PORT" >"var/proxy/$(basename "$file")"
  done
  say "For the server before it: var/proxy/nginx.conf, var/proxy/Caddyfile (docs/running.md says where they go)"
}

# filled FILE PLACE WORDS ...: a file with words in the places that wait for them
filled() {
  local text
  text=$(cat "$1") || return 1
  shift
  while [ $# -gt 0 ]; do text=${text//"$1"/"$2"}; shift 2; done
  printf '%s\n' "$text"
}

# for_systemd PATH: within quotes of a unit's line, where %, \, " and $ have meanings of their own
for_systemd() {
  local path=$1
  path=${path//\\/\\\\} path=${path//\"/\\\"} path=${path//%/%%} path=${path//\$/\$\$}
  printf %s "$path"
}
