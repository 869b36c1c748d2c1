"""Base templates, the stick, units on the page, and the vendored front end."""
