"""The vehicle, devices wanted, what the car offers."""
