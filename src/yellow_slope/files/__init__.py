"""What is read and written: delimited text, table descriptions, study files, results."""
