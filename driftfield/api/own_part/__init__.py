"""Own part: how one's own sales moved beside the market."""
