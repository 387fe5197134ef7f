"""Prices from dated quotes, unit rates from build-ups, and the bill they price. Money is Decimal."""
