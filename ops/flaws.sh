# ./wax flaws: the Python packages that ship, against the advisories that PyPI publishes; pip-audit asks for them.

need_debian_packages build
[ -x var/env-lock/bin/pip-audit ] || { python3 -m venv var/env-lock && var/env-lock/bin/pip install -q pip-audit; }
exec var/env-lock/bin/pip-audit --disable-pip --require-hashes -r requirements/build.txt -r requirements/run.txt "$@"
