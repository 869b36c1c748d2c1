# The demo's simulated clarity meter and forecast service, each on its own port of loopback.

METER_PORT=${WAX_METER_PORT:-$((PORT > 65530 ? PORT - 4 : PORT + 4))}
FORECAST_PORT=${WAX_FORECAST_PORT:-$((PORT > 65530 ? PORT - 3 : PORT + 5))}
DEVICES_PID=$PWD/var/devices.pid

# start_devices: in the modes that WAX_METER_MODE and WAX_FORECAST_MODE name (well, late, wrong, down)
start_devices() {
  local port
  end "$DEVICES_PID" # left over from a run that was killed
  for port in "$METER_PORT" "$FORECAST_PORT"; do
    if port_taken "$port"; then
      say "Port $port is in use: the demo goes on without its simulated meter and forecast"
      return 0
    fi
  done
  setsid "$(python_of run)" -m web.demo.services --meter-port "$METER_PORT" --forecast-port "$FORECAST_PORT" \
    --meter "${WAX_METER_MODE:-well}" --forecast "${WAX_FORECAST_MODE:-well}" --pid-file "$DEVICES_PID" \
    </dev/null >var/devices.log 2>&1 9>&- &
  # Nobody waits for them: a page that asks before they answer says that they do not.
  printf '%s' "$!" >"$DEVICES_PID"
  STARTED[$DEVICES_PID]=$!
  export WAX_DEMO_CAMERA=1
  export WAX_METER=127.0.0.1:$METER_PORT WAX_FORECAST=http://127.0.0.1:$FORECAST_PORT/
  export WAX_GAUGE=http://127.0.0.1:$FORECAST_PORT/gauge
}

stop_devices() {
  end "$DEVICES_PID"
  rm -f "$DEVICES_PID"
}
