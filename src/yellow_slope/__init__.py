"""Yellow Slope: does the effect of X on Y depend on M?"""

__version__ = "0.2.0"
