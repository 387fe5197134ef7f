"""Reinforcement: bar sizes, counts, shapes and cut lengths."""
