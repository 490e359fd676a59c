"""Kinds of signal, their names, and which plugs join."""

from typing import Final, Literal

Signal = Literal[
    "mic",
    "line",
    "hiz",
    "headphone",
    "speaker",
    "adat",
    "spdif",
    "spdif-optical",
    "aes3",
    "aes3-id",
    "madi",
    "madi-56",
    "madi-48k",
    "madi-56-48k",
    "word",
    "word-base",
    "word-256",
    "cue",
]

Connector = Literal[
    "xlr",
    "combo",
    "trs",
    "ts",
    "rca",
    "bnc",
    "toslink",
    "mini-toslink",
    "db25",
    "binding",
    "sc",
    "rj45",
    "tt",
    "long-frame",
]

SIGNAL_LABELS: Final[dict[str, str]] = {
    "mic": "microphone", "line": "line", "hiz": "instrument (Hi-Z)", "headphone": "headphones",
    "speaker": "loudspeaker", "adat": "ADAT", "spdif": "S/PDIF", "spdif-optical": "S/PDIF",
    "aes3": "AES3", "aes3-id": "AES3-id", "madi": "MADI", "madi-56": "MADI", "madi-48k": "MADI", "madi-56-48k": "MADI",
    "word": "word clock", "word-base": "word clock", "word-256": "word clock", "cue": "cue bus",
}  # fmt: skip

CONNECTOR_LABELS: Final[dict[str, str]] = {
    "xlr": "XLR", "combo": "XLR/TRS combo", "trs": "TRS jack", "ts": "TS jack", "rca": "RCA", "bnc": "BNC",
    "toslink": "TOSLINK", "mini-toslink": "mini-TOSLINK", "db25": "DB25", "binding": "binding posts", "sc": "SC", "rj45": "RJ45",
    "tt": "TT jack", "long-frame": "long-frame jack",
}  # fmt: skip

#: What a cable is called by the connector at its sending end.
CABLE_LABELS: Final[dict[str, str]] = {
    "toslink": "TOSLINK fibre",
    "mini-toslink": "TOSLINK fibre",
    "rca": "RCA coaxial, 75 ohm",
    "bnc": "BNC coaxial, 75 ohm",
    "xlr": "XLR, balanced",
    "combo": "XLR, balanced",
    "trs": "TRS, balanced",
    "ts": "TS, unbalanced",
    "db25": "DB25 loom",
    "binding": "loudspeaker cable",
    "sc": "glass fibre, SC",
    "rj45": "network cable, RJ45",
    "tt": "TT, balanced",
    "long-frame": "long-frame, balanced",
}
