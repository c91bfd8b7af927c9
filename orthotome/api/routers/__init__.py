"""One router a room of the house."""
