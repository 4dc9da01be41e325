"""`python -m yellow_slope`."""

import sys

from yellow_slope.start import main

sys.exit(main())
