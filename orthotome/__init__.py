"""Orthotome: plan, log and tune test cuts on a CNC plasma table until the edges are square."""

__version__ = "0.21.0"
