"""Exercises at a simulated table: how far they are, and how they ended. What is hidden is asked of the simulated table."""
