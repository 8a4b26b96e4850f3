"""What holds for all tests."""

from hypothesis import HealthCheck, settings

# How long a busy machine takes says nothing about what is tested.
settings.register_profile("steady", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("steady")
