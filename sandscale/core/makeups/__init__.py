"""Make-ups: recipes that turn an element's dimension lines into quantities, kept as data."""
