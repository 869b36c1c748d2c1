# The process that does the heavy work, beside the server.

WORKER_PID=$PWD/var/worker.pid

start_worker() {
  running "$WORKER_PID" >/dev/null && return 0
  rotate var/worker.log
  PROMETHEUS_MULTIPROC_DIR=$PWD/var/metrics setsid "$(python_of run)" -m web work --pid-file "$WORKER_PID" </dev/null >>var/worker.log 2>&1 9>&- &
  WORKER_STARTED=$!
}

# keep_worker: takes note of one that has begun; starts another where it has ended
keep_worker() {
  if running "$WORKER_PID" >/dev/null; then
    [ -n "${STARTED[$WORKER_PID]:-}" ] && [ "${STARTED[$WORKER_PID]}" = "$(running "$WORKER_PID")" ] || started "$WORKER_PID"
  elif ! kill -0 "${WORKER_STARTED:-0}" 2>/dev/null; then
    start_worker
  fi
}
