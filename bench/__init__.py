"""Timings and memory, each as a ratio to a baseline taken in the same run: ./wax bench."""
