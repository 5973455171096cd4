"""Attacks on an instance of its own, and on the laws of the slab: tests that run for as long as one lets them."""
