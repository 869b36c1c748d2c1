# ./wax lock: pins the dependency sets anew, with hashes and without naming any registry.

need_debian_packages build
[ -x var/env-lock/bin/pip-compile ] || { python3 -m venv var/env-lock && var/env-lock/bin/pip install -q pip-tools; }
for set in build run dev; do
  say "requirements/$set.txt"
  (cd requirements && ../var/env-lock/bin/pip-compile -q --generate-hashes --no-emit-index-url --no-emit-trusted-host \
    --no-emit-find-links --no-header --strip-extras --allow-unsafe -o "$set.txt" "$set.in")
done
