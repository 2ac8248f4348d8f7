"""All tests; run with ``./check``."""

import hypothesis

from zombrel.job.unjudged import strict

# Slow machines are not wrong, and a red run must be red again tomorrow.
hypothesis.settings.register_profile("zombrel", deadline=None, derandomize=True)
hypothesis.settings.load_profile("zombrel")
# Faults of the program come through here, which users are told of instead.
strict(True)
