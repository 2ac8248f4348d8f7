"""All tests; run with ``./check``."""

import hypothesis

# Slow machines are not wrong, and a red run must be red again tomorrow.
hypothesis.settings.register_profile("zombrel", deadline=None, derandomize=True)
hypothesis.settings.load_profile("zombrel")
