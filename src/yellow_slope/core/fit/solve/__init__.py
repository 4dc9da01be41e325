"""From columns to numbers: factorization, roots of covariances, resamples, tails."""
