"""Driftfield: which niches of a marketplace are worth entering, and when."""

import os

__version__ = "0.1.0"

# The core reads a market in threads of its own. A linear-algebra library that starts as many again
# for every small product makes them wait for one another; this must be said before numpy is loaded.
for _name in ("OPENBLAS_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ.setdefault(_name, "1")
