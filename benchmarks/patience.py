"""Whether the server answers while others hold connections: python -m benchmarks.patience [--port 8000]

Opens half-sent requests of three kinds on a server that runs (bin/demo), and asks it for a page of the
ledger meanwhile; beside it the same before they came, as the reference.
"""

from __future__ import annotations

import argparse
import socket
import time
import urllib.request

HALF = {
    "nothing sent": b"",
    "half of a header": b"GET /api/markets/ HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ",
    "half of a body": b"POST /api/desk/decisions/ HTTP/1.1\r\nHost: 127.0.0.1\r\n"
    b"Content-Type: application/json\r\n"
    b"Content-Length: 1000\r\n\r\n{",
}
TRIES = 20


def slowest(port: int) -> float:
    """Seconds of the slowest of some pages of the ledger."""
    found = []
    for _ in range(TRIES):
        start = time.perf_counter()
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/ledger/", timeout=60) as answer:
            answer.read()
        found.append(time.perf_counter() - start)
    return max(found)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--connections", type=int, default=150)
    wanted = parser.parse_args()
    slowest(wanted.port)  # Columns are read once.
    print(f"alone: {slowest(wanted.port) * 1000:.0f} ms at most of {TRIES}")
    for kind, text in HALF.items():
        held = []
        for _ in range(wanted.connections):
            one = socket.create_connection(("127.0.0.1", wanted.port))
            one.sendall(text)
            held.append(one)
        time.sleep(0.5)
        took = slowest(wanted.port)
        print(f"{wanted.connections} with {kind}: {took * 1000:.0f} ms at most of {TRIES}")
        for one in held:
            one.close()


if __name__ == "__main__":
    main()
