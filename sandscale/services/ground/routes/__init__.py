"""Routes: typical sections, what is built where, sections along them, named quantities."""
