"""The simulated feed as a program: python -m driftfield.feedsim.serve '{"port": 8765, …}'."""

from __future__ import annotations

import json
import os
import sys
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any, NoReturn

from gunicorn.app.base import BaseApplication


@dataclass(frozen=True, slots=True)
class Plan:
    """What is simulated. package: exchange tables whose figures are told. told: weeks that are still to
    come in it when the simulation begins. further: weeks that are made up after its end. every: seconds
    after which a week is over; None where it is put forward by hand. faults: none, some or worst; delay, wait:
    seconds of their slow answers and of what they ask to wait, where they are to be others."""

    package: str
    port: int = 8765
    told: int = 0
    further: int = 26
    every: float | None = 60.0
    faults: str = "some"
    seed: int = 1
    delay: float | None = None
    wait: float | None = None


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, plan: Plan) -> None:
        self.plan = plan
        super().__init__()

    def load_config(self) -> None:
        options = {
            "bind": f"127.0.0.1:{self.plan.port}",
            "workers": 1,  # What it knows is kept in memory.
            "threads": 8,
            "worker_class": "gthread",
            # A body that breaks off must end its connection.
            "keepalive": 0,
            "loglevel": "warning",
            "proc_name": "driftfield-feed-sim",
            "control_socket_disable": True,
        }
        for key, value in options.items():
            if key in self.cfg.settings:
                self.cfg.set(key, value)

    def load(self) -> Any:
        return application(self.plan)


def application(plan: Plan) -> Any:
    """The feed as a WSGI application."""
    os.environ["DJANGO_SETTINGS_MODULE"] = "driftfield.feedsim.settings"
    from django.core.wsgi import get_wsgi_application

    from .faults import LEVELS, FaultMiddleware
    from .state import STATE
    from .world import Clock, build

    STATE.world = build(Path(plan.package), further=plan.further, seed=plan.seed)
    world = STATE.world
    STATE.clock = Clock(world.complete - plan.told, world.last, plan.every)
    faults = LEVELS[plan.faults]
    changed = {key: value for key in ("delay", "wait") if (value := getattr(plan, key)) is not None}
    FaultMiddleware.set(replace(faults, **changed), plan.seed)
    return get_wsgi_application()


def serve_on(plan: Plan) -> NoReturn:
    """Serve until interrupted; says where first. A program of its own takes the place of this one."""
    print(f"The simulated feed is on http://127.0.0.1:{plan.port}/  (Ctrl-C stops it)", flush=True)
    root = str(Path(__file__).parents[2])
    command = [sys.executable, "-m", "driftfield.feedsim.serve", json.dumps(asdict(plan))]
    os.execve(sys.executable, command, {**os.environ, "PYTHONPATH": root})


if __name__ == "__main__":
    _Server(Plan(**json.loads(sys.argv[1]))).run()
