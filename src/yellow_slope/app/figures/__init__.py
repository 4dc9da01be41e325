"""Figures drawn with the painter."""
