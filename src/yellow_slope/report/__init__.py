"""What is printed: figures, tables, documents."""
