"""The researcher's own: decisions now; sieves, lenses, notes and plans to come."""
