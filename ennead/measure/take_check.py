"""Whether a take can be believed: block by block, each ping against the ping that all of them fit."""

from typing import Final

import numpy as np

from ennead.measure.ping_signal import PingTrain
from ennead.measure.recording import Recording, Samples

#: The blocks that are looked at, samples: the shortest period of an audio server that is in use.
BLOCK: Final = 32
#: A block is damaged where what is left of it is so many times as loud as in the median block, and louder than this part of
#: the ping: a box that is not the same twice is so all along, and rounding is not damage.
_TIMES: Final = 8.0
_PART: Final = 1e-4


def damaged_block(recording: Recording, channel: int, train: PingTrain, lag: int) -> int | None:
    """Return where a take was damaged, as the first sample of the block; None where it is whole.

    Parameters
    ----------
    channel : int
        From 0.
    lag : int, samples
        How late the pings are, to a sample: all of them alike, for one clock sends and records.

    Notes
    -----
    The fitted ping is the median of the pings, sample by sample: with three and more, damage to one leaves it whole.
    """
    first = [start - train.form.lead + lag for start in train.starts]
    length = train.form.active // BLOCK * BLOCK
    heard = np.stack([recording.read(at, length)[:, channel] for at in first])
    fitted = np.median(heard, axis=0)
    left = _levels(heard - fitted)
    # The median of three is one of them: of every sample one ping has nothing left, and the others all.
    usual = np.median(left[left > 0]) if np.any(left > 0) else 0.0
    most = max(_TIMES * float(usual), _PART * float(np.sqrt(np.mean(fitted**2))))
    bad = np.argwhere(left > most)
    if not len(bad):
        return None
    ping, block = min((int(p), int(b)) for p, b in bad)
    return first[ping] + block * BLOCK


def _levels(heard: Samples) -> Samples:
    """Return the rms of each block, shape (pings, blocks)."""
    return np.asarray(np.sqrt(np.mean(heard.reshape(len(heard), -1, BLOCK) ** 2, axis=2)))
