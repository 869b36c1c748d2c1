"""Outside devices and services: the plain protocols they speak, and readers that distrust what they hear."""
