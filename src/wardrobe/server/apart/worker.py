"""The process that works apart: ``python -m wardrobe.server.apart.worker SOCKET``."""

import os
import resource
import signal
import sys
import threading
import time
from multiprocessing.connection import Connection


def main() -> None:
    """Answer one request after the other until the other side is gone."""
    handle = int(sys.argv[1])
    parent = os.getppid()
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl+C in the terminal is for the server
    threading.Thread(target=_end_with, args=(parent,), daemon=True).start()
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))

    from wardrobe.core.errors import WardrobeError
    from wardrobe.server.apart.passing import send_result
    from wardrobe.server.apart.tasks import TASKS

    wire = Connection(handle)
    wire.send(("ready",))
    while True:
        try:
            name, arguments, cpu_seconds, most_bytes = wire.recv()
        except EOFError:
            return
        _allow(cpu_seconds, most_bytes)
        try:
            result = TASKS[name](*arguments)
        except WardrobeError as error:
            wire.send(("refused", type(error), error.message))
        except MemoryError:
            wire.send(("memory",))
        except Exception as error:
            import traceback

            wire.send(("fault", type(error).__name__, traceback.format_exc(limit=-12)[-8000:]))
        else:
            try:
                send_result(wire, result, parent)
            except (MemoryError, OSError):
                return  # half an answer: the other side takes it as out of memory
        result = arguments = None


def _end_with(parent: int) -> None:
    """End when the server has been killed."""
    while os.getppid() == parent:
        time.sleep(1)
    os._exit(1)


def _allow(cpu_seconds: float, most_bytes: int) -> None:
    """So much memory and more processor time, kept by the system should nobody watch any more."""
    resource.setrlimit(resource.RLIMIT_DATA, (most_bytes, resource.RLIM_INFINITY))
    used = sum(resource.getrusage(resource.RUSAGE_SELF)[:2])
    resource.setrlimit(resource.RLIMIT_CPU,
                       (int(used + 2 * cpu_seconds) + 1, resource.RLIM_INFINITY))


if __name__ == "__main__":
    main()
