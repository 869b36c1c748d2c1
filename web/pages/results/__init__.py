"""What the log says: learning that overrules the book as far as its evidence goes."""
