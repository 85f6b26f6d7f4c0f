"""The one rate at which sounds are kept."""

# Samples a second.
RATE = 48_000
