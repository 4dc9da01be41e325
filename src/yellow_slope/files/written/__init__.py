"""What is written besides studies: exported tables, results, cases."""
