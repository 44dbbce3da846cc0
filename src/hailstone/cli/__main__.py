"""`python -m hailstone.cli`."""

import sys

from hailstone.cli.main import main

sys.exit(main())
