"""A server's own process. ``python -m pondus.running.serving STARTER``: what to serve comes on standard input."""

if __name__ == "__main__":  # before anything else is loaded, which takes seconds
    import sys
    from signal import SIGTERM

    from pondus.running.ending import end_with

    end_with(int(sys.argv[1]), SIGTERM)

import os
import pickle
import sys
from dataclasses import dataclass

from pondus.running.server import Bind, Server
from pondus.web.app import WebConfig


@dataclass(frozen=True)
class Serving:
    """What one server serves, and where. ``workers``: how many processes answer; None: as usual."""

    config: WebConfig
    bind: Bind
    workers: int | None = None

    def run(self) -> None:
        """Serve until told to stop; as the leader of a process group of its own."""
        os.setsid()
        Server(self.config, self.bind, workers=self.workers).run()


if __name__ == "__main__":
    served = pickle.load(sys.stdin.buffer)
    sys.stdin.close()
    served.run()
