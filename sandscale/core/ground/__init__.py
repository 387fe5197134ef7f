"""Ground: levels to surfaces, formations, cut and fill by several methods, trenches and routes. Lengths in
m, levels in m, y is north."""
