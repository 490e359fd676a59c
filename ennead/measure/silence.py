"""The noise of a recording, bin by bin, from where no ping sounds."""

import numpy as np

from ennead.measure.hum import without_hum
from ennead.measure.ping_signal import BEFORE_S, PingTrain
from ennead.measure.recording import Recording, Samples

#: A loop may ring on for so long after a ping, s.
_RING_S = 0.4
_GUARD_S = 0.03
#: So many periods of it are enough, and a bound on memory.
_MOST_PERIODS = 15


def quiet_spans(recording: Recording, train: PingTrain, lags: "list[int]") -> list[tuple[int, int]]:
    """Return where no ping sounds, first and end, samples; lags by ping."""
    form, rate = train.form, train.rate_hz
    guard, ring = round(_GUARD_S * rate), round(_RING_S * rate)
    heard = sorted(start + lag for start, lag in zip(train.starts, lags, strict=True))
    begin = max(0, heard[0] - form.lead - round(BEFORE_S * rate))
    spans = [(begin, heard[0] - form.lead - guard)]
    ends = [*[at - form.lead - guard for at in heard[1:]], recording.frames]
    spans += [(at + form.period + form.tail + ring, end) for at, end in zip(heard, ends, strict=True)]
    return [(first, end) for first, end in spans if end > first]


def noise_power(
    recording: Recording, channel: int, spans: list[tuple[int, int]], period: int, hum_hz: float = 0.0
) -> Samples | None:
    """Return by bin the mean square of the transform of a period of noise, or None where no period is quiet.

    Parameters
    ----------
    hum_hz : float, Hz
        What hums, and is taken out; zero for nothing.

    Returns
    -------
    array of float, shape (period / 2 + 1,)
        The median over all quiet periods, so that a sound in one of them does not count, set to be the mean of
        exponentially distributed powers.
    """
    from scipy.ndimage import uniform_filter1d  # type: ignore[import-untyped]

    powers = []
    places = [at for first, end in spans for at in range(first, end - period + 1, period)]
    for at in places[:_MOST_PERIODS]:
        quiet = np.nan_to_num(recording.read(at, period)[:, channel])
        powers.append(np.abs(np.fft.rfft(without_hum(quiet, quiet, hum_hz, recording.rate_hz))) ** 2)
    if not powers:
        return None
    count = len(powers)
    # The median of n exponentials is the sum of the upper half of 1/k; of an even n the mean of two.
    lower, upper = (sum(1 / k for k in range(half, count + 1)) for half in (count // 2 + 1, (count + 1) // 2))
    middle = np.median(np.array(powers), axis=0) / ((lower + upper) / 2)
    return np.asarray(uniform_filter1d(middle, 9, axis=0, mode="reflect"))
