"""The core of Wax Crate: colours, situations, schools, covers and the crate, with no web and no database."""
