"""The web side: screens over the core, with no rule of the job in it."""
