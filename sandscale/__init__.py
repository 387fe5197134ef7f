"""Sand Scale: measuring, pricing and billing for civil and structural quantity surveyors."""
