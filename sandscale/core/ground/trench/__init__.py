"""Trenches: their sides, what is laid in them, the runs of a network and the pits at its nodes."""
