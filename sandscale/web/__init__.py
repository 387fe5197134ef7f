"""The web application: one blueprint per stage, thin over the services."""
