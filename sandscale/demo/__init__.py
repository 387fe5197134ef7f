"""The demonstration: Ferrin Weir Pumping Station, its drawings, quotes and bill, all made up and built
from code."""
