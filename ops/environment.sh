# The Python environments: var/env to run, var/env-dev to develop and test, each from its pinned lock.

python_of() {
  if [ "$1" = run ] && [ -n "${WAX_ENVIRONMENT:-}" ]; then printf '%s' "$WAX_ENVIRONMENT/bin/python"; return; fi
  if [ "$1" = run ]; then printf '%s' "$PWD/var/env/bin/python"; else printf '%s' "$PWD/var/env-dev/bin/python"; fi
}

# need_python_environment run|dev
need_python_environment() {
  local lock="requirements/$1.txt" python folder
  python=$(python_of "$1")
  folder=$(dirname "$(dirname "$python")")
  [ "$(cat "$folder/made-from" 2>/dev/null)" = "$(sha256sum <"$lock")" ] && return 0
  [ -n "${WAX_ENVIRONMENT:-}" ] && [ "$1" = run ] && [ -x "$python" ] && return 0
  need_debian_packages run
  enough_disk 1200
  say "Making the Python environment (${folder#"$PWD"/})"
  mkdir -p var
  [ -x "$python" ] || python3 -m venv "$folder" || fail "python3 -m venv failed"
  patiently "$python" -m pip install --disable-pip-version-check -q --require-hashes -r "$lock" >var/pip.log 2>&1 ||
    fail "installing Python packages failed; the last lines of var/pip.log:
$(tail -n 5 var/pip.log)"
  sha256sum <"$lock" >"$folder/made-from"
}

need_everything() {
  need_debian_packages run
  need_python_environment "$1"
  need_settings
}

# var/settings.env: what this installation alone knows; made once, readable by its owner only
need_settings() {
  [ -f var/settings.env ] && return 0
  say "Making secrets (var/settings.env)"
  mkdir -p var
  (
    umask 077
    cat >var/settings.env <<TXT
WAX_SECRET_KEY=$(python3 -c 'import secrets; print(secrets.token_urlsafe(50))')
WAX_DB_PASSWORD=$(python3 -c 'import secrets; print(secrets.token_urlsafe(24))')
TXT
  )
}
