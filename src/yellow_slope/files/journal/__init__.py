"""The journal: what happened to a study since it was opened, kept beside the study against a crash."""
