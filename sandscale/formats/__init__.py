"""Readers and writers, one per format: bytes to core objects and back. Readers trust no file."""
