"""What is owned, held against a plan: gaps, doubles, short stock, what to buy."""
