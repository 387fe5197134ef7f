"""What is measured on a sheet: its scale, and the counts, runs and areas drawn on it."""
