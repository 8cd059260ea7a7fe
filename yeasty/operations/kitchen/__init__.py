"""The kitchen around the stations: people, appliances, devices, library."""
