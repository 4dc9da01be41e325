"""Table files of every kind: which kind it is, how it is read, what is described beside it."""
