"""A small simulated market feed, a program of its own: it tells a market week by week, late, revised, and
through every failing that such services have. Nothing of the application imports it."""
