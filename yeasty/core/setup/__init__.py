"""Is it fair, will it fit: differences between methods, appliance truth, conversions, allergens."""
