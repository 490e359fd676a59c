"""The library of the audio server: where it may lie, and how it is loaded; only in a process that does nothing else."""

import ctypes
import ctypes.util
from pathlib import Path
from types import ModuleType
from typing import Any, Final, NamedTuple

#: As the system finds it: the server's own, or PipeWire's in its place.
_USUAL: Final = "libjack.so.0"
#: Where distributions put PipeWire's, so that programs find it with a wrapper command alone.
_BESIDE: Final = (
    "usr/lib/*/pipewire-*/jack/libjack.so.0",
    "usr/lib*/pipewire-*/jack/libjack.so.0",
    "usr/local/lib*/pipewire-*/jack/libjack.so.0",
    "usr/local/lib/*/pipewire-*/jack/libjack.so.0",
)

#: Which way a latency is counted: from the converter to a port, or from a port to the converter.
CAPTURE: Final = 0
PLAYBACK: Final = 1


class _Range(ctypes.Structure):
    _fields_ = (("least", ctypes.c_uint32), ("most", ctypes.c_uint32))


_LATENCY_CALLBACK = ctypes.CFUNCTYPE(None, ctypes.c_int, ctypes.c_void_p)


class Library(NamedTuple):
    """A loaded library.

    Parameters
    ----------
    jack : module
        The package, bound to the library.
    calls : ctypes.CDLL
        The same library, for calls that the package lacks.
    """

    jack: ModuleType
    calls: ctypes.CDLL

    @property
    def server(self) -> str:
        """The kind of server that it talks to, and its version."""
        self.calls.jack_get_version_string.restype = ctypes.c_char_p
        version = (self.calls.jack_get_version_string() or b"").decode(errors="replace")
        if (at := version.find("PipeWire")) >= 0:
            return version[at:].rstrip(")")
        return f"JACK {version}".strip()

    def latency(self, port: Any, way: int) -> tuple[int, int]:
        """Return the least and the most latency of a port, samples."""
        found = _Range()
        self.calls.jack_port_get_latency_range(self._pointer(port), way, ctypes.byref(found))
        return found.least, found.most

    def declare_latency(self, client: Any, ports: dict[int, list[Any]], samples: dict[int, int]) -> object:
        """Have a client's ports state a latency each way, samples; keep what is returned as long as the client lives."""

        def told(way: int, _: object) -> None:
            stated = _Range(samples[way], samples[way])
            for port in ports[way]:
                self.calls.jack_port_set_latency_range(self._pointer(port), way, ctypes.byref(stated))

        callback = _LATENCY_CALLBACK(told)
        self.calls.jack_set_latency_callback(self._pointer(client), callback, None)
        return callback

    def _pointer(self, thing: Any) -> ctypes.c_void_p:
        from _jack import ffi  # type: ignore[import-untyped]

        return ctypes.c_void_p(int(ffi.cast("uintptr_t", thing._ptr)))  # noqa: SLF001 - the package has no call for it


def library_paths() -> tuple[str, ...]:
    """Return the libraries to try, in order."""
    beside = [path for pattern in _BESIDE for path in sorted(Path("/").glob(pattern))]
    return (_USUAL, *dict.fromkeys(map(str, beside)))


def load(path: str) -> Library:
    """Load a library into this process, which can hold one alone.

    Raises
    ------
    OSError
        If it is not here, or the package is not.
    """
    calls = ctypes.CDLL(path)
    find = ctypes.util.find_library
    # The package asks the system once, when it is imported, for the only library it would know.
    ctypes.util.find_library = lambda name: path if name == "jack" else find(name)
    try:
        import jack  # type: ignore[import-untyped]
    except ImportError as error:
        raise OSError(str(error)) from error
    finally:
        ctypes.util.find_library = find
    jack.set_error_function(_quiet)
    jack.set_info_function(_quiet)
    return Library(jack, calls)


def _quiet(_: str) -> None:
    """Say nothing: what went wrong is told by what the calls return."""
