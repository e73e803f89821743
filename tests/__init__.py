"""Tests of what a user would miss; the folders mirror src/tamarind.

On a busy machine chance may take its time.
"""

from hypothesis import HealthCheck, settings

settings.register_profile(
    "busy", deadline=None, suppress_health_check=[HealthCheck.too_slow], database=None
)
settings.load_profile("busy")
