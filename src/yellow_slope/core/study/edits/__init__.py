"""Edits: functions from a study to a study. They check what they are given and leave everything else."""
