"""What figures are drawn from."""
