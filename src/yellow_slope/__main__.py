"""`python -m yellow_slope`."""

import sys

from yellow_slope.cli import main

sys.exit(main())
