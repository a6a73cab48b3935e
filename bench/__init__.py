"""Timings, beside the same work done by a scalar SciPy loop in the same process."""
