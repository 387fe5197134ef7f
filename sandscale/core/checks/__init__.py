"""What looks wrong in a project: one rule per file. Each takes plain facts and gives checks, or nothing."""
