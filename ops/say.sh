# Words on the terminal: what is being done, and how it can fail.

say() { printf '%s\n' "· $*"; }

fail() { printf '%s\n' "wax: $*" >&2; exit 1; }
