"""What a log says of colours: evidence, weighed by how much of it there is."""
