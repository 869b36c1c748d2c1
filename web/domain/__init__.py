"""What is kept, with what reads it (`selectors`) and what changes it (`services`)."""
