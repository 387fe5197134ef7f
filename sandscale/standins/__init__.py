"""Stand-ins for the outside: small simulated services, named as such, each behind the interface a real one
has."""
