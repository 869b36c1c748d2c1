"""What was changed, as it was and as it became, and taking a change back."""
