# The Python environments: var/env to run, var/env-dev to develop and test, each from its pinned lock.

python_of() {
  if [ "$1" = run ] && [ -n "${WAX_ENVIRONMENT:-}" ]; then printf '%s' "$WAX_ENVIRONMENT/bin/python"; return; fi
  if [ "$1" = run ]; then printf '%s' "$PWD/var/env/bin/python"; else printf '%s' "$PWD/var/env-dev/bin/python"; fi
}

# need_python_environment run|dev
need_python_environment() {
  local lock="requirements/$1.txt" python folder stamp
  python=$(python_of "$1")
  folder=$(dirname "$(dirname "$python")")
  [ -n "${WAX_ENVIRONMENT:-}" ] && [ "$1" = run ] && [ -x "$python" ] && return 0
  stamp=$(cat requirements/build.txt "$lock" | sha256sum; ! command -v python3 >/dev/null || python3 --version)
  [ "$(cat "$folder/made-from" 2>/dev/null)" = "$stamp" ] && "$python" -c '' 2>/dev/null && return 0
  need_debian_packages build
  stamp=$(cat requirements/build.txt "$lock" | sha256sum; python3 --version)
  enough_disk 1200
  say "Making the Python environment (${folder#"$PWD"/})"
  # Without its stamp it is half made, or of another Python: from the beginning.
  [ -f "$folder/made-from" ] && "$python" -c '' 2>/dev/null && rm "$folder/made-from" || python3 -m venv --clear "$folder" || fail "python3 -m venv failed"
  patiently install_python_packages "$python" "$lock" >var/pip.log 2>&1 ||
    fail "installing Python packages failed; the last lines of var/pip.log:
$(tail -n 5 var/pip.log)"
  printf '%s\n' "$stamp" >"$folder/made-from"
}

# What builds the few packages that come as source is pinned too, and nothing else is fetched to build them.
install_python_packages() {
  local pip=("$1" -m pip install --disable-pip-version-check -q --require-hashes)
  "${pip[@]}" --only-binary :all: -r requirements/build.txt && "${pip[@]}" --no-build-isolation -r "$2"
}

need_everything() {
  need_debian_packages run
  need_python_environment run
  need_settings
}
