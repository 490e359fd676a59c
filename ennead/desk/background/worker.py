"""A thread that does one thing after another; each answer goes back to its caller."""

import threading
from collections.abc import Callable
from queue import SimpleQueue
from typing import Any, Generic, TypeVar

T = TypeVar("T")


class Promise(Generic[T]):
    """What is being worked out on another thread."""

    def __init__(self) -> None:
        self._box: SimpleQueue[tuple[bool, Any]] = SimpleQueue()

    def keep(self, task: Callable[[], T]) -> None:
        """Work it out, here and now."""
        try:
            self._box.put((True, task()))
        except BaseException as error:  # noqa: BLE001 - it is raised again where it is asked for
            self._box.put((False, error))

    def take(self) -> T:
        """Wait for it; return it, or raise what went wrong. It is there to be taken once."""
        done, value = self._box.get()
        if not done:
            raise value
        result: T = value
        return result


class Worker:
    """One worker. It is a small thing of our own because the standard pool brings logging along, a tenth of the start."""

    def __init__(self, name: str) -> None:
        self._tasks: SimpleQueue[Callable[[], Any] | None] = SimpleQueue()
        self._thread = threading.Thread(target=self._work, name=name, daemon=True)
        self._thread.start()

    def _work(self) -> None:
        while (task := self._tasks.get()) is not None:
            task()

    def submit(self, task: Callable[[], Any]) -> None:
        """Have something done after everything handed over before; it must not raise."""
        self._tasks.put(task)

    def promise(self, task: Callable[[], T]) -> Promise[T]:
        """Have something done, to be asked for later."""
        promise: Promise[T] = Promise()
        self._tasks.put(lambda: promise.keep(task))
        return promise

    def ask(self, task: Callable[[], T]) -> T:
        """Have something done and wait for what it returns, or raises."""
        return self.promise(task).take()

    def end(self) -> None:
        """Do what is left and end the thread."""
        self._tasks.put(None)
        self._thread.join()
