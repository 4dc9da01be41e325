"""Plots, read by their marks."""
