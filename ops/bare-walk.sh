# The walk of ./wax bench bare, inside: demo, stop, demo again, sign-in and three pages, encrypted backup, what another
# machine kept put back, one test of the core and one of the web. Run beside a clone named "a clone".
set -euo pipefail
cd "a clone"

started() {
  ./wax demo >../demo.log 2>&1 &
  for ((try = 0; try < 1500; try++)); do
    if grep -q "Wax Crate is on" ../demo.log; then return 0; fi
    kill -0 $! 2>/dev/null || break
    sleep 1
  done
  cat ../demo.log
  return 1
}

pages() {
  var/env/bin/python - "$WAX_PORT" <<'PY'
import http.cookiejar, re, sys, urllib.parse, urllib.request
base = f"http://127.0.0.1:{sys.argv[1]}"
ask = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
page = ask.open(f"{base}/account/sign-in/").read().decode()
token = re.search(r'csrfmiddlewaretoken" value="(\w+)"', page)[1]
told = {"csrfmiddlewaretoken": token, "username": "wren", "password": "open-the-crate"}
ask.open(f"{base}/account/sign-in/", urllib.parse.urlencode(told).encode())
for address in ("/plan/", "/crate/", "/day/"):
    page = ask.open(base + address).read().decode()
    assert "wren" in page or "Sign out" in page, address
    print(address, len(page))
PY
}

started && pages
./wax stop
started && pages
[ -e ../key ] || head -c 48 /dev/urandom | base64 >../key
./wax backup ../whole.backup --key ../key
./wax stop
if [ -e ../kept.backup ]; then
  rm -rf "../another clone"
  git clone -q . "../another clone"
  (cd "../another clone" && ./wax restore ../kept.backup --key ../key)
fi
./wax test tests/core/test_units.py
./wax test tests/web/test_watched.py
