"""What stands around the benches: header, roster, search, foot, status line, first sight, command finder."""
