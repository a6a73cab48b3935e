"""Simulated stand-ins for the devices of a workshop, with the faults real ones have."""
