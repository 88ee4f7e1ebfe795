"""What the core raises when it is handed something it cannot work with."""


class CoreError(ValueError):
    """Input the core cannot use; the text says what is needed, what came and what to do."""
