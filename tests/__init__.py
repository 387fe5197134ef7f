"""Tests: the worked cases of the trade, the core on its own, then each room outwards to the browser.

Cases by chance are the same in every run, so that what fails fails again; ``SANDSCALE_CHANCE=1`` takes others each time.
"""

import os

from hypothesis import settings

settings.register_profile("the same", derandomize=True)
if not os.environ.get("SANDSCALE_CHANCE"):
    settings.load_profile("the same")
