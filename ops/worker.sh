# The processes that do the heavy work, beside the server: two, so that one person's does not hold another's.

WORKER_PIDS=("$PWD/var/worker.pid" "$PWD/var/worker-2.pid")

# start_workers: those that do not run; returns once each is known by its pid file, so that whatever ends next can end it
start_workers() {
  local file pid
  for file in "${WORKER_PIDS[@]}"; do
    running "$file" >/dev/null && continue
    rotate var/worker.log
    PROMETHEUS_MULTIPROC_DIR=$PWD/var/metrics setsid "$(python_of run)" -m web work --pid-file "$file" \
      </dev/null >>var/worker.log 2>&1 9>&- &
    pid=$!
    printf '%s' "$pid" >"$file"
    until running "$file" >/dev/null; do
      kill -0 "$pid" 2>/dev/null || continue 2
      sleep 0.1
    done
    started "$file"
  done
}

stop_workers() {
  local file
  for file in "${WORKER_PIDS[@]}"; do end "$file"; done
}
