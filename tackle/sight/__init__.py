"""The fish's eye: what a colour is, down there. A model with its assumptions in data files; see docs/eye.md."""
