"""Plots, laid out once into marks; screen and files draw the same ones. No toolkit in here."""
