"""Every name and every sentence that a person reads."""
