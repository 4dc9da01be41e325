"""What is told of results in rows of numbers: screen, report, clipboard and files print the same cells."""
