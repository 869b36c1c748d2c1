"""What serves every app: the database, the server, the base pages, accounts, work that waits, and what is watched."""
