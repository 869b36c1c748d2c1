# var/settings.env: what this installation alone knows, read as data and never run. Any WAX_ setting may stand in it, a
# line each, as NAME=value; what the environment says stands over it.

declare -A TOLD_BY_ENVIRONMENT=()
while read -r name; do TOLD_BY_ENVIRONMENT[$name]=1; done < <(compgen -e WAX_ || true)

# read_settings [FILE]: exports what stands in it
read_settings() {
  local file=${1:-var/settings.env} line number=0 name value
  [ -f "$file" ] || return 0
  while IFS= read -r line || [ -n "$line" ]; do
    number=$((number + 1))
    line=${line%$'\r'}
    case $line in '' | '#'*) continue ;; esac
    [[ $line =~ ^(WAX_[A-Z0-9_]+)=(.*)$ ]] || fail "$file, line $number: not a setting. Write it as WAX_NAME=value"
    name=${BASH_REMATCH[1]} value=${BASH_REMATCH[2]}
    if [[ $value =~ ^\"(.*)\"$ || $value =~ ^\'(.*)\'$ ]]; then value=${BASH_REMATCH[1]}; fi
    [ -n "${TOLD_BY_ENVIRONMENT[$name]:-}" ] || export "$name=$value"
  done <"$file"
}

# need_settings: the two secrets, each made once; readable by their owner only
need_settings() {
  local name missing=()
  for name in WAX_SECRET_KEY WAX_DB_PASSWORD; do
    grep -qs "^$name=." var/settings.env || missing+=("$name")
  done
  if [ ${#missing[@]} -gt 0 ]; then
    if [ -d "$(database_folder)/mysql" ]; then
      say "var/settings.env is lost: making new secrets. Nothing stored is lost; everybody has to sign in again"
    else
      say "Making secrets (var/settings.env)"
    fi
    { [ ! -f var/settings.env ] || grep -vE "^($(IFS='|'; printf %s "${missing[*]}"))=" var/settings.env || true
      for name in "${missing[@]}"; do
        printf '%s=%s\n' "$name" "$(python3 -c 'import secrets; print(secrets.token_urlsafe(40))')"
      done; } >var/settings.env.new
    mv var/settings.env.new var/settings.env
  fi
  read_settings
}

# forget_secrets: so that new ones are made; what else stands there stays
forget_secrets() {
  [ -f var/settings.env ] || return 0
  sed -i -E '/^WAX_(SECRET_KEY|DB_PASSWORD)=/d' var/settings.env
}

# own_database: whether the database is this folder's own, and not one that WAX_DATABASE_URL names
own_database() { [ -z "${WAX_DATABASE_URL:-}" ]; }
