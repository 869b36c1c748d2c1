"""Schools of colour choice: calls, rulebooks, and what they say of cards in situations."""
