"""Figures: values in, a picture file out."""
