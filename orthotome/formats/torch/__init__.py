"""Open files of the torch: alignment."""
