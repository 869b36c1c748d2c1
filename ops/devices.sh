# The demo's simulated clarity meter and forecast service, each on its own port of loopback.

METER_PORT=${WAX_METER_PORT:-8044}
FORECAST_PORT=${WAX_FORECAST_PORT:-8045}

# start_devices: in the modes that WAX_METER_MODE and WAX_FORECAST_MODE name (well, late, wrong, down)
start_devices() {
  local port
  for port in "$METER_PORT" "$FORECAST_PORT"; do
    if port_taken "$port"; then
      say "Port $port is in use: the demo goes on without its simulated meter and forecast"
      return 0
    fi
  done
  setsid "$(python_of run)" -m web.demo.services --meter-port "$METER_PORT" --forecast-port "$FORECAST_PORT" \
    --meter "${WAX_METER_MODE:-well}" --forecast "${WAX_FORECAST_MODE:-well}" </dev/null >var/devices.log 2>&1 &
  echo $! >var/devices.pid
  export WAX_DEMO_CAMERA=1
  export WAX_METER=127.0.0.1:$METER_PORT WAX_FORECAST=http://127.0.0.1:$FORECAST_PORT/
}

stop_devices() {
  local pid
  pid=$(cat var/devices.pid 2>/dev/null) || return 0
  if grep -qs web.demo.services "/proc/$pid/cmdline"; then kill "$pid"; fi
  rm -f var/devices.pid
}
