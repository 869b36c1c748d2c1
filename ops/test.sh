# ./wax test: linters, types, layers, and every test on a throw-away database.

TEST_DATABASE=
ONLY_CORE= # whether all that is asked for are tests of the core, which take neither database nor browser

# read_test_files ARGS...: the files among pytest's arguments have to be there
read_test_files() {
  local word before='' files=0 core=0
  for word in "$@"; do
    case $word in
      -*) ;;
      *)
        # What stands after one of these is its value, and no file.
        case $before in -k | -m | -n | -p | -W | -o | -c | -r | --dist | --durations | --maxfail | --tb) ;; *)
          [ -e "${word%%::*}" ] || fail "there is no ${word%%::*}: name a file or a folder of tests, as tests/core/test_units.py"
          files=$((files + 1))
          case $word in tests/core/*) core=$((core + 1)) ;; esac ;;
        esac ;;
    esac
    before=$word
  done
  if [ "$files" -gt 0 ] && [ "$files" -eq "$core" ]; then ONLY_CORE=1; fi
}

run_tests() {
  read_test_files "$@"
  if [ "$ONLY_CORE" ]; then need_debian_packages build; else need_debian_packages test; fi
  need_python_environment dev
  if [ $# -eq 0 ]; then
    export PATH="$PWD/var/env-dev/bin:$PATH"
    say "ruff"
    ruff check .
    ruff format --check -q .
    say "mypy"
    # It reads the settings for the models, and opens nothing.
    WAX_SECRET_KEY=none WAX_DB_PASSWORD=none mypy
    say "import-linter"
    lint-imports
    say "djlint"
    djlint --lint --quiet web
    no_long_lines
    # A file's tests stay together: what a file starts once serves all of it.
    set -- -n "$(nproc)" --dist loadfile
  fi
  run_pytest "$@"
}

# no_long_lines: a template reads from top to bottom like its page
no_long_lines() {
  local long
  long=$(git ls-files -z 'web/*.html' | LC_ALL=C.UTF-8 xargs -0 grep -nE '^.{121,}' || true)
  [ -z "$long" ] || fail "template lines of over 120 characters:
$(cut -c 1-160 <<<"$long")"
}

# run_pytest ARGS...: with the environment and the settings that the tests, and the commands they call, use
run_pytest() {
  if [ "$ONLY_CORE" ]; then export WAX_SECRET_KEY=none WAX_DB_PASSWORD=none; else start_test_database; fi
  mkdir -p var/static
  export WAX_ENVIRONMENT=$PWD/var/env-dev
  say "pytest"
  "$WAX_ENVIRONMENT/bin/python" -m pytest "$@" || exit $?
}

run_bench() {
  start_test_database
  export WAX_ENVIRONMENT=$PWD/var/env-dev DJANGO_SETTINGS_MODULE=tests.settings
  "$WAX_ENVIRONMENT/bin/python" -m bench "$@" || exit $?
}

# A second instance in memory, with nothing made durable: tables are made three times faster. Never for a user's data.
start_test_database() {
  local place=/dev/shm try
  [ -w "$place" ] || place=$PWD/var
  at_exit stop_test_database
  TEST_DATABASE=$(mktemp -d "$place/wax-test-XXXXXX")
  chmod 711 "$TEST_DATABASE"
  export WAX_DB_PORT WAX_DB_PASSWORD WAX_SECRET_KEY
  WAX_DB_PASSWORD=$(python3 -c 'import secrets; print(secrets.token_urlsafe(16))')
  WAX_SECRET_KEY=$(python3 -c 'import secrets; print(secrets.token_urlsafe(50))')
  say "Making a throw-away database"
  make_database "$TEST_DATABASE/data"
  for try in 1 2 3; do
    # Another run beside this one may take the free port first.
    WAX_DB_PORT=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
    run_database "$TEST_DATABASE/data" "$WAX_DB_PORT" --innodb-flush-log-at-trx-commit=0 --skip-innodb-doublewrite \
      --innodb-flush-method=nosync && break
    [ "$try" -lt 3 ] || database_failed "$TEST_DATABASE/data"
  done
  database_shell "$TEST_DATABASE/data" <<SQL
CREATE USER wax@127.0.0.1 IDENTIFIED BY '$WAX_DB_PASSWORD';
GRANT ALL ON *.* TO wax@127.0.0.1;
SQL
}

stop_test_database() {
  [ -n "$TEST_DATABASE" ] || return 0
  end "$TEST_DATABASE/data/wax.pid"
  rm -rf "$TEST_DATABASE"
}
