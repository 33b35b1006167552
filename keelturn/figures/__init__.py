"""The catalogue of figures, as data."""
