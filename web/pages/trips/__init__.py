"""Trips: planned, packed, lived on the phone, looked back on."""
