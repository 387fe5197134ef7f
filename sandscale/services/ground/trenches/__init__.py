"""Networks of trenches: kinds, nodes and runs as they were entered, and what they come to."""
