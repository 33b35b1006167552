"""Floors, gates, costs, spread, sequence and checks with reasons."""
