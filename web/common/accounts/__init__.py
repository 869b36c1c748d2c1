"""Users: sign in and out, sign up, passwords, and how each likes to read lengths."""
