"""Measurements, one module a subject: each yields figures, printed as one line with their bar.

Ratios are taken side by side on the same machine in the same minute; single times are medians.
"""
