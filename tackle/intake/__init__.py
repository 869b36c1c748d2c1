"""Taking lures in: typed lines, tables, the words anglers write."""
