"""Writes demo/harrow-quay.zip, and the same market as it was on earlier days: ``python demo/generate.py``.

The same files every time."""

from __future__ import annotations

import json
import sys
import zipfile
from datetime import date
from pathlib import Path

HERE = Path(__file__).parent
sys.path[:0] = [str(HERE), str(HERE.parent)]

from harrowquay.curves import CREATED  # noqa: E402
from harrowquay.market import build  # noqa: E402

from driftfield.exchange.cut import cut_package  # noqa: E402

# Earlier looks at the market, by the day up to which it is known: a quarter before, and a week before.
EARLIER = {"harrow-quay-february": date(2026, 2, 15), "harrow-quay-week-before": date(2026, 5, 10)}
STAMP = (2026, 5, 20, 6, 0, 0)  # a fixed time, so that the zip is the same byte for byte


def main() -> None:
    frames = build()
    package = {
        "name": "harrow-quay",
        "title": "Harrow Quay, an invented marketplace",
        "created": CREATED,
        "resources": [
            {"name": n, "path": f"{n}.csv", "schema": f"{n}.schema.json"} for n in frames
        ],
    }
    out = HERE / "harrow-quay.zip"
    with zipfile.ZipFile(out, "w") as archive:
        files = {"datapackage.json": json.dumps(package, indent=2)}
        files |= {f"{name}.csv": frame.write_csv() for name, frame in frames.items()}
        for name, text in files.items():
            info = zipfile.ZipInfo(name, STAMP)
            info.compress_type = zipfile.ZIP_BZIP2  # a third smaller than deflate here
            archive.writestr(info, text.encode(), compresslevel=9)
    for name, day in EARLIER.items():
        cut_package(out, day, HERE / f"{name}.zip")
    for name, frame in frames.items():
        print(f"{name:14} {frame.height:8,}")
    print(f"{out.name} {out.stat().st_size / 1e6:.2f} MB")


if __name__ == "__main__":
    main()
