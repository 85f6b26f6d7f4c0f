"""Samples to clean pictures: how many go where, features beside them, and taking the noise away."""
