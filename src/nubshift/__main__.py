"""``python -m nubshift``: the same as the command ``nubshift``."""

import sys

from nubshift.cli.main import main

sys.exit(main())
