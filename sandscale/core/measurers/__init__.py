"""What every measurer is: it turns what was entered for an element into quantity lines."""
