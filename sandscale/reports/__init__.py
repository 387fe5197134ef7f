"""Documents for people: built from core objects, without the database."""
