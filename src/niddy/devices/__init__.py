"""Devices: ports to a bench balance, and a stand-in that ships with the application."""
