"""Long work outside the request: what is asked for, how far it is, and what came of it."""
