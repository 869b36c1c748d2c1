"""What all of the core stands on: words, units, input, and what is kept by its content."""
