from hypothesis import HealthCheck, settings

# How long drawing an example takes says something of the machine, and nothing of the rules.
settings.register_profile("calm", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("calm")
