"""A table's health, from all that was measured of it."""
