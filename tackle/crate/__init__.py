"""What is owned: lures and how they are kept."""
