# Debian packages: which are missing, and their installation.

BUILD_PACKAGES=(libmariadb-dev pkg-config gcc libpangoft2-1.0-0 libharfbuzz-subset0)
DATABASE_PACKAGES=(mariadb-server-core mariadb-client-core mariadb-client) # the last one for backups
TEST_PACKAGES=(chromium git poppler-utils)

missing_packages() {
  local package there
  there=$(dpkg-query -W -f='${Package}:${Status}\n' "$@" 2>/dev/null || true)
  for package in "$@"; do
    grep -qE "^$package:.* ok installed$" <<<"$there" || printf '%s\n' "$package"
  done
}

# need_debian_packages build|run|test: each holds the one before it
need_debian_packages() {
  local wanted=("${BUILD_PACKAGES[@]}") missing seen
  # Where nothing was installed or removed since, there is nothing to look for.
  seen="$(stat -c %y /var/lib/dpkg/status 2>/dev/null) $(command -v python3 || true) ${BUILD_PACKAGES[*]} ${DATABASE_PACKAGES[*]} ${TEST_PACKAGES[*]}"
  [ "$(cat "var/packages.$1" 2>/dev/null)" != "$seen" ] || return 0
  [ "$1" = build ] || wanted+=("${DATABASE_PACKAGES[@]}")
  [ "$1" != test ] || wanted+=("${TEST_PACKAGES[@]}")
  # An interpreter from elsewhere brings its own headers and venv; Debian's needs packages for both.
  command -v python3 >/dev/null || wanted+=(python3)
  if ! python3 -c 'import ensurepip, os, sysconfig as s; assert os.path.exists(s.get_path("include") + "/Python.h")' 2>/dev/null; then
    wanted+=(python3-venv python3-dev)
  fi
  mapfile -t missing < <(missing_packages "${wanted[@]}")
  if [ ${#missing[@]} -eq 0 ]; then
    if [ -w var ]; then printf '%s' "$seen" >"var/packages.$1"; fi
    return 0
  fi
  command -v apt-get >/dev/null || fail "this needs Debian; these packages are missing: ${missing[*]}"
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || fail "these Debian packages are missing, and installing them takes root or sudo: ${missing[*]}"
  fi
  say "Installing Debian packages: ${missing[*]}"
  enough_disk 1500
  patiently install_packages "${missing[@]}" >var/packages.log 2>&1 || fail "installing Debian packages failed; the last lines of var/packages.log:
$(tail -n 5 var/packages.log)"
}

install_packages() {
  local sudo=() wait=(-o DPkg::Lock::Timeout=300 -o Acquire::Retries=3)
  [ "$(id -u)" -eq 0 ] || sudo=(sudo)
  # What an interruption left half set up is finished first.
  "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive dpkg --configure -a &&
    "${sudo[@]}" apt-get "${wait[@]}" update -q &&
    "${sudo[@]}" env DEBIAN_FRONTEND=noninteractive apt-get "${wait[@]}" install -q -y --no-install-recommends "$@"
}

# enough_disk MEGABYTES: a clear word before something half-written is left behind
enough_disk() {
  local free
  make_var
  free=$(df -Pm var | awk 'NR == 2 { print $4 }')
  [ "$free" -ge "$1" ] || fail "not enough disk space: $free MB free here, about $1 MB needed"
}
