"""How requests reach the app: whole or not at all, so that nobody who sends slowly holds up who does not."""
