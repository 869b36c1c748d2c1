# The process that does the heavy work, beside the server.

WORKER_PID=$PWD/var/worker.pid

# start_worker: returns once it is known by its pid file, so that whatever ends next can end it, too
start_worker() {
  local pid
  running "$WORKER_PID" >/dev/null && return 0
  rotate var/worker.log
  PROMETHEUS_MULTIPROC_DIR=$PWD/var/metrics setsid "$(python_of run)" -m web work --pid-file "$WORKER_PID" \
    </dev/null >>var/worker.log 2>&1 9>&- &
  pid=$!
  printf '%s' "$pid" >"$WORKER_PID"
  until running "$WORKER_PID" >/dev/null; do
    kill -0 "$pid" 2>/dev/null || return 0
    sleep 0.1
  done
  started "$WORKER_PID"
}
