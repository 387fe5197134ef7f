"""Routes: a centreline with chainages, its long section and typical sections, and what they come to."""
