"""Tests: the worked cases of the trade, the core on its own, then each room outwards to the browser."""
