"""Orthotome's open files: Pydantic models with their schemas, and readers and writers.

Every field carries its unit in its name; a unit is never a setting of a file.
"""
