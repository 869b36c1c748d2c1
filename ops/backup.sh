# ./wax backup and ./wax restore: everything that is stored, as one file; and ./wax install, which has it done each night.

BACKUP_FORMAT=1
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
  [ ! -e "$file" ] || fail "$file is there already"
  need_key "$key"
  command -v mariadb-dump >/dev/null || need_for_once mariadb-client
  database_running || fail "nothing is running here: start it first (./wax serve or ./wax demo)"
  WORK=$(mktemp -d var/backup-XXXXXX) PART=$file.part
  trap 'rm -rf "$WORK" "$PART"' EXIT
  local root=$PWD
  (cd "$(database_folder)" && dump_tables --no-defaults --socket=wax.sock wax) >"$WORK/wax.sql" || fail "reading the database failed"
  cp var/settings.env "$WORK/settings.env"
  printf 'wax-crate-backup %s\n' "$BACKUP_FORMAT" >"$WORK/about"
  tar -C "$root/$WORK" -czf - about settings.env wax.sql | sealed "$key" >"$PART" || fail "writing $file failed: is the disk full?"
  mv "$PART" "$file"
  say "Kept in $file ($(du -h "$file" | cut -f 1))"
  [ -z "$into" ] || find "$into" -maxdepth 1 -name 'wax-crate-*.backup' | sort -r | tail -n +$((keep + 1)) | xargs -r -d '\n' rm -f
}

restore() {
  local file='' key='' folder
  while [ $# -gt 0 ]; do
    case $1 in
      --key) key=$(from_caller "${2:?wax restore FILE [--key KEYFILE]}"); shift 2 ;;
      *) file=$(from_caller "$1"); shift ;;
    esac
  done
  [ -f "$file" ] || fail "wax restore FILE [--key KEYFILE]: there is no file ${file:-}"
  need_key "$key"
  one_at_a_time
  folder=$(database_folder)
  [ ! -d "$folder/mysql" ] || fail "there is a database here already ($folder): a backup is restored into an empty place"
  WORK=$(mktemp -d var/restore-XXXXXX)
  trap 'rm -rf "$WORK"' EXIT
  opened "$file" "$key" | tar -C "$WORK" -xzf - about settings.env wax.sql 2>/dev/null ||
    fail "$file is no backup of Wax Crate, or it takes a key (--key), or another one"
  grep -qx "wax-crate-backup $BACKUP_FORMAT" "$WORK/about" || fail "$file is of a form that this version does not read"
  [ -f var/settings.env ] || cp "$WORK/settings.env" var/settings.env
  need_everything
  trap 'rm -rf "$WORK"; end_started "$(database_folder)/wax.pid"' EXIT
  start_database
  say "Putting everything back"
  if ! (cd "$folder" && mariadb --no-defaults --socket=wax.sock wax) <"$WORK/wax.sql"; then
    stop_database
    rm -rf "$folder"
    fail "the backup could not be read in; nothing is left of the attempt"
  fi
  load_settings
  WAX_DEMO= "$(python_of run)" -m web prepare
  stop_database
  say "Restored: ./wax serve starts it"
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

# The units of systemd: for the whole machine as root, else for the user.
install_units() {
  local to=${1:-} unit
  if [ -z "$to" ]; then
    if [ "$(id -u)" -eq 0 ]; then to=/etc/systemd/system; else to=$HOME/.config/systemd/user; fi
  fi
  mkdir -p "$to" || fail "cannot make $to"
  for unit in ops/units/*; do
    sed "s|@FOLDER@|$PWD|g; s|@WANTED@|$([ "$(id -u)" -eq 0 ] && printf multi-user.target || printf default.target)|" "$unit" >"$to/$(basename "$unit")"
  done
  say "Written into $to: $(cd ops/units && printf '%s ' *)"
  say "Start with: systemctl $([ "$(id -u)" -eq 0 ] || printf -- '--user ')enable --now wax-crate.service wax-crate-backup.timer"
}
