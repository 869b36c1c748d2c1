"""An angler's own rules on top of the schools, and the schools of a club."""
