"""Heat: conduction in simple shapes. SI throughout, temperatures in °C."""
