"""Sound files, read piece by piece and written: WAV of every width, RF64, W64, FLAC; soundfile is imported when one is."""

from collections.abc import Callable, Iterator
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Final, Self, TypeVar

from ennead.files.errors import FileTrouble
from ennead.files.regular import kind_of, made_whole

if TYPE_CHECKING:
    import numpy as np
    import numpy.typing as npt
    from soundfile import SoundFile  # type: ignore[import-untyped]

    from ennead.measure.recording import Samples

#: All channels of a recording together, s: what a search holds of them in memory is bounded by it.
LONGEST_S: Final = 2_400
_MOST_CHANNELS: Final = 64
_NO_SOUND: Final = "Give a WAV (16, 24, 32 bits, float, RF64, W64) or FLAC file."


T = TypeVar("T")


class SoundRecording:
    """A sound file as a recording; a context manager that closes it.

    Raises
    ------
    FileTrouble
        If it is no sound file, is longer than is read, or ends before its header says.
    """

    def __init__(self, path: Path) -> None:
        import soundfile

        self.path = path
        try:
            # A pipe or a device could keep a reader waiting for ever.
            what = kind_of(path.stat().st_mode)
        except OSError as error:
            raise FileTrouble(path, "there is no such file", "Check the name and the folder.") from error
        if what:
            raise FileTrouble(path, f"it is {what}, not a file", _NO_SOUND)
        try:
            self._file: SoundFile = soundfile.SoundFile(str(path))
        except (soundfile.LibsndfileError, OSError, RuntimeError, ValueError) as error:
            raise FileTrouble(path, "it is no sound file that can be read", _NO_SOUND) from error
        self.frames, self.rate_hz, self.channels = self._file.frames, self._file.samplerate, self._file.channels
        if "should be" in self._file.extra_info:
            raise FileTrouble(
                path,
                "its header says more than the file holds",
                "Let the software close the file, and export it again.",
            )
        if not self._file.seekable():
            raise FileTrouble(path, "it cannot be read from the middle", "Export it as WAV.")
        if self.channels > _MOST_CHANNELS or self.frames * self.channels > LONGEST_S * self.rate_hz:
            length = f"{self.frames / self.rate_hz / 60:.0f} minutes of {self.channels} channels"
            raise FileTrouble(
                path,
                f"{length} are more than is read",
                f"Export the pings alone, {LONGEST_S // 120} minutes of stereo at most.",
            )

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self._file.close()

    def read(self, start: int, count: int) -> "Samples":
        """Return frames as an array of shape (count, channels); zeros where the recording has none."""
        import numpy as np

        out = np.zeros((count, self.channels))
        first, last = max(0, start), min(self.frames, start + count)
        if first < last:
            self._guarded(lambda: self._file.seek(first))
            self._fill(out[first - start : last - start])
        return out

    def blocks(self, size: int) -> "Iterator[npt.NDArray[np.floating]]":
        """Yield all frames from the first on, so many at a time, in single precision."""
        import numpy as np

        self._guarded(lambda: self._file.seek(0))
        for start in range(0, self.frames, size):
            block = np.empty((min(size, self.frames - start), self.channels), np.float32)
            self._fill(block)
            yield block

    def _fill(self, out: "npt.NDArray[np.floating]") -> None:
        read = self._guarded(lambda: self._file.read(len(out), dtype=out.dtype.name, always_2d=True, out=out))
        if len(read) < len(out):
            raise FileTrouble(
                self.path,
                "it ends before its header says",
                "Export it again, or let the software close the file first.",
            )

    def _guarded(self, work: Callable[[], T]) -> T:
        import soundfile

        try:
            return work()
        except (soundfile.LibsndfileError, OSError, RuntimeError, ValueError) as error:
            raise FileTrouble(self.path, "it cannot be read to its end", "Export it again.") from error


def write_sound(path: Path, samples: "Samples", rate_hz: int) -> None:
    """Write samples, shape (frames, channels), as a 24-bit WAV.

    Raises
    ------
    FileTrouble
        If it cannot be written.
    """
    import soundfile

    try:
        with made_whole(path) as place:
            soundfile.write(str(place), samples, rate_hz, subtype="PCM_24", format="WAV")
    except soundfile.LibsndfileError as error:
        raise FileTrouble(path, "it cannot be written", "Choose another folder, or make room on the disk.") from error
