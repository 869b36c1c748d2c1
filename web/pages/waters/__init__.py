"""Waters: their list, a water's year, readings, files and sensors."""
