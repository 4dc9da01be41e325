"""The quick line: a model in one line of the product's own small notation.

    control = “what they bring”: age, balance; practice centered, coaching from none; practice x coaching

A comma lists, a semicolon ends a block, `x` multiplies; what is said about a variable follows its name.
"""

from yellow_slope.core.quickline.completing import complete
from yellow_slope.core.quickline.grammar import read_line, said_by
from yellow_slope.core.quickline.reading import Reading, SaidBlock, Summary
from yellow_slope.core.quickline.writing import unsaid, write_line

__all__ = ["Reading", "SaidBlock", "Summary", "complete", "read_line", "said_by", "unsaid", "write_line"]
