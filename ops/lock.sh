# ./wax lock: pins the dependency sets anew for every Python from Debian 12's on, with hashes and without naming any
# registry.

need_debian_packages build
[ -x var/env-lock/bin/uv ] || { python3 -m venv var/env-lock && var/env-lock/bin/pip install -q uv; }
for set in build run dev; do
  say "requirements/$set.txt"
  (cd requirements && ../var/env-lock/bin/uv pip compile -q --universal --python-version 3.11 --generate-hashes \
    --no-header -o "$set.txt" "$set.in")
done
