# ./wax backup and ./wax restore: everything that is stored, as one file; and ./wax install, which has it done each night.

BACKUP_FORMAT=2
WORK= PART= # what is taken away again, whatever happens
BACKUP_USAGE="wax backup FILE [--key KEYFILE], or wax backup --into FOLDER [--keep NUMBER] [--key KEYFILE]"

# The whole database as of one moment, while others write.
dump_tables() {
  mariadb-dump "$@" --single-transaction --quick --hex-blob --no-tablespaces --skip-comments --default-character-set=utf8mb4
}

backup() {
  local file='' into='' keep=14 key=''
  while [ $# -gt 0 ]; do
    case $1 in
      --into) into=${2:?$BACKUP_USAGE}; shift 2 ;;
      --keep) keep=${2:?$BACKUP_USAGE}; shift 2 ;;
      --key) key=$(from_caller "${2:?$BACKUP_USAGE}"); shift 2 ;;
      -*) fail "$BACKUP_USAGE" ;;
      *) file=$(from_caller "$1"); shift ;;
    esac
  done
  if [ -n "$into" ]; then
    [[ $keep =~ ^[1-9][0-9]*$ ]] || fail "--keep takes a number from 1 on, not $keep"
    into=$(from_caller "$into")
    mkdir -p "$into" || fail "cannot make $into"
    file=$into/wax-crate-$(date -u +%Y%m%d-%H%M%S).backup
  fi
  [ -n "$file" ] || fail "$BACKUP_USAGE"
  need_key "$key"
  need_debian_packages run
  need_python_environment run
  make_var
  if own_database; then database_running || fail "nothing is running here: start it first (./wax serve or ./wax demo)"; fi
  keep_backup "$file" "$key"
  # Only once this one is known to be whole do older ones go.
  [ -z "$into" ] || find "$into" -maxdepth 1 -name 'wax-crate-*.backup' | sort -r | tail -n +$((keep + 1)) | xargs -r -d '\n' rm -f
}

# keep_backup FILE KEY: the database that is used, in a file that was read back and counted; no other is kept
keep_backup() {
  local file=$1 key=$2 root=$PWD
  [ ! -e "$file" ] || fail "$file is there already"
  WORK=$(mktemp -d "$root/var/backup-XXXXXX") PART=$file.part
  at_exit 'rm -rf "$WORK" "$PART"'
  connection_of_database >"$WORK/client.cnf"
  manifest count "$WORK/client.cnf" "$(database_name)" >"$WORK/before" || fail "the database cannot be read"
  at_database dump_tables --defaults-file="$WORK/client.cnf" "$(database_name)" >"$WORK/wax.sql" || fail "reading the database failed"
  manifest count "$WORK/client.cnf" "$(database_name)" >"$WORK/after" || fail "the database cannot be read"
  manifest write "$WORK" >"$WORK/manifest.json" || fail "no backup was kept"
  [ ! -f var/settings.env ] || cp var/settings.env "$WORK/settings.env"
  : >>"$WORK/settings.env"
  printf 'wax-crate-backup %s\n' "$BACKUP_FORMAT" >"$WORK/about"
  tar -C "$WORK" -czf - about manifest.json settings.env wax.sql | sealed "$key" >"$PART" || fail "writing $file failed: is the disk full?"
  mkdir "$WORK/back"
  unpack "$PART" "$key" "$WORK/back" 2>/dev/null && manifest check "$WORK/back" ||
    fail "what was written could not be read back: no backup was kept. Is the disk well?"
  mv "$PART" "$file"
  rm -rf "$WORK"
  say "Kept in $file ($(du -h "$file" | cut -f 1)), read back and counted"
}

# unpack FILE KEY FOLDER: the parts of a backup, as files and nothing else
unpack() {
  local packed=$3/packed.tar
  opened "$1" "$2" | gzip -dc >"$packed" || return 1
  # Links, devices and names of other places are no parts of a backup.
  tar -tvf "$packed" | grep -qv '^-' && return 1
  tar -C "$3" --no-same-owner --no-same-permissions -xf "$packed" about settings.env wax.sql || return 1
  tar -C "$3" --no-same-owner --no-same-permissions -xf "$packed" manifest.json 2>/dev/null || true
  rm "$packed"
}

# manifest WHAT WHERE: see ops/manifest.py
manifest() { at_database "$(python_of run)" "$PWD/ops/manifest.py" "$@"; }

# at_database COMMAND...: from the folder of its own database, whose socket is named from there (see database_shell)
at_database() {
  if own_database; then (cd "${BESIDE_OR_OWN:-$(database_folder)}" && "$@"); else "$@"; fi
}

# connection_of_database: how MariaDB's own programs reach the database that is used, as an option file
connection_of_database() {
  if own_database; then printf '[client]\nsocket=wax.sock\n'; return; fi
  "$(python_of run)" -m web.common.database.client || fail "the database of WAX_DATABASE_URL cannot be reached"
}

database_name() { if own_database; then printf wax; else "$(python_of run)" -m web.common.database.client name; fi; }

RESTORE_USAGE="wax restore FILE [--key KEYFILE]"
BESIDE= # where a backup is restored, until it is whole

restore() {
  local file='' key='' folder
  while [ $# -gt 0 ]; do
    case $1 in
      --key) key=$(from_caller "${2:?$RESTORE_USAGE}"); shift 2 ;;
      *) file=$(from_caller "$1"); shift ;;
    esac
  done
  [ -f "$file" ] || fail "$RESTORE_USAGE: there is no file ${file:-}"
  make_var
  own_database || fail "a backup is restored into this folder's own database, and WAX_DATABASE_URL names another: see docs/running.md"
  need_key "$key"
  one_at_a_time
  folder=$(database_folder)
  [ ! -d "$folder/mysql" ] || fail "there is a database here already ($folder): a backup is restored into an empty place"
  if port_taken "$DATABASE_PORT"; then fail "port $DATABASE_PORT, which the database wants, is in use; free it, or set WAX_DB_PORT to another"; fi
  need_debian_packages run
  need_python_environment run
  WORK=$(mktemp -d "$PWD/var/restore-XXXXXX") BESIDE=$folder.restoring
  at_exit 'end "$BESIDE/wax.pid"; rm -rf "$WORK" "$BESIDE" "$BESIDE.new"'
  unpack "$file" "$key" "$WORK" 2>/dev/null ||
    fail "$file is no backup of Wax Crate, or it takes a key (--key), or another one"
  BESIDE_OR_OWN=$PWD manifest check "$WORK" || fail "$file was not restored, and nothing was changed"
  say "Putting everything back, beside"
  rm -rf "$BESIDE"
  make_database "$BESIDE"
  export WAX_DB_PORT=$DATABASE_PORT
  run_database "$BESIDE" "$DATABASE_PORT" --max-allowed-packet=128M || database_failed "$BESIDE"
  feed "$BESIDE" "$WORK/wax.sql" || fail "the backup could not be read in; nothing is left of the attempt"
  connection_of_database >"$WORK/client.cnf"
  BESIDE_OR_OWN=$BESIDE manifest count "$WORK/client.cnf" wax >"$WORK/after" || fail "what was restored cannot be read"
  BESIDE_OR_OWN=$PWD manifest restored "$WORK" || fail "what was restored is not whole; nothing is left of the attempt"
  if [ -f var/settings.env ]; then need_settings; else read_settings "$WORK/settings.env"; fi
  make_app_user "$BESIDE"
  WAX_DEMO= "$(python_of run)" -m web prepare --kept || fail "its tables could not be brought up to date; nothing is left of the attempt"
  end "$BESIDE/wax.pid"
  mv "$BESIDE" "$folder"
  [ -f var/settings.env ] || grep -E '^WAX_[A-Z0-9_]+=' "$WORK/settings.env" >var/settings.env || true
  need_settings
  say "Restored: ./wax serve starts it"
}

# feed FOLDER FILE: SQL, as somebody who may do nothing but write into that one database, with the client's own
# commands (\! runs programs) off
feed() {
  local plain=(--no-defaults --binary-mode --local-infile=0)
  ! mariadb --help --verbose 2>/dev/null | grep -q -- '--sandbox' || plain+=(--sandbox)
  database_shell "$1" <<'SQL' || return 1
CREATE DATABASE wax CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
CREATE USER restoring@localhost IDENTIFIED BY 'beside';
GRANT SELECT, INSERT, UPDATE, DELETE, CREATE, DROP, ALTER, INDEX, REFERENCES, LOCK TABLES ON wax.* TO restoring@localhost;
SQL
  (cd "$1" && mariadb "${plain[@]}" --socket=wax.sock --user=restoring --password=beside wax) <"$2" || return 1
  database_shell "$1" <<<'DROP USER restoring@localhost'
}

need_key() {
  [ -n "$1" ] || return 0
  [ -s "$1" ] || fail "there is no key in $1: a file with a long line of your own"
  command -v gpg >/dev/null || need_for_once gnupg
}

need_for_once() {
  say "Installing Debian packages: $*"
  patiently install_packages "$@" >var/packages.log 2>&1 || fail "installing $* failed; the last lines of var/packages.log:
$(tail -n 5 var/packages.log)"
}

# sealed KEY, opened FILE KEY: encrypted with what the key's file holds, where there is one
sealed() { if [ -n "$1" ]; then quiet_gpg --symmetric --cipher-algo AES256 --passphrase-file "$1" -o -; else cat; fi; }

opened() { if [ -n "$2" ]; then quiet_gpg --decrypt --passphrase-file "$2" -o - "$1" 2>/dev/null; else cat "$1"; fi; }

quiet_gpg() {
  local home status=0
  home=$(mktemp -d)
  gpg --homedir "$home" --batch --quiet --yes --pinentry-mode loopback "$@" || status=$?
  gpgconf --homedir "$home" --kill all 2>/dev/null || true
  rm -rf "$home"
  return "$status"
}

# from_caller PATH: seen from where ./wax was called, not from its own folder
from_caller() { case $1 in /*) printf '%s' "$1" ;; *) printf '%s' "$WAX_FROM/$1" ;; esac; }
