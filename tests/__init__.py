"""Orthotome's tests. No test depends on how fast the machine is: property tests have no deadline."""

from hypothesis import settings

settings.register_profile("orthotome", deadline=None)
settings.load_profile("orthotome")
