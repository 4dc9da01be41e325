"""Writers of the report: one small file for each format, all over the same blocks."""
