"""What a user can do: one function per action, each in one transaction with its change-log entry."""
