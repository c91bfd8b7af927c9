"""A trial's height, the line of a table, and what is recorded of it."""
