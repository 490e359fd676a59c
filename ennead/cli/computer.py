"""Read this computer: the ports of the running audio server as driver numbers, and how they differ from a plan."""

import argparse
from pathlib import Path
from typing import Any

from ennead.cli.terminal import print_json, say


def arguments(verb: argparse.ArgumentParser) -> None:
    """Add this verb's arguments."""
    verb.add_argument("--read", action="store_true", required=True, help="ask the audio server (JACK or PipeWire)")
    verb.add_argument("studio", metavar="STUDIO", type=Path, nargs="?", help="compare with the plan of a studio")
    verb.add_argument("--session", metavar="NAME", help="of the studio: another session, by name or id")
    verb.add_argument("--device", metavar="NAME", help="one device alone, as the server names it")
    verb.add_argument("--json", action="store_true", help="print one JSON object")


def run(args: argparse.Namespace) -> int:
    """Carry out the verb."""
    from ennead.cli.studio_argument import survey_of
    from ennead.live.server_ports import read_server
    from ennead.reports.computer_reading import compare_ports, comparison_lines, difference_row, planned_ports, port_row
    from ennead.survey.system_names import first_computer

    survey = survey_of(args) if args.studio is not None else None
    ports = read_server()
    if args.device is not None:
        ports = ports.device_named(args.device)
    elif survey is not None:
        ports = planned_ports(survey, ports)
    computer = first_computer(survey) if survey is not None else None
    if args.json:
        rows: dict[str, Any] = {
            "server": ports.server,
            "rate_hz": ports.rate_hz,
            "period": ports.period,
            "inputs": [port_row(p) for p in ports.inputs],
            "outputs": [port_row(p) for p in ports.outputs],
        }
        if survey is not None and computer is not None:
            rows["plan"] = [difference_row(d) for d in compare_ports(survey, computer, ports)]
        print_json(rows)
        return 0
    say(f"{ports.server} at {ports.rate_hz} Hz, {ports.period} samples a period")
    for way, listed in (("inputs", ports.inputs), ("outputs", ports.outputs)):
        say(way)
        for port in listed:
            say(f"{port.number:>5}  {port.port:<40} {port.alias:<24} {port.latency_samples} samples".rstrip())
    if survey is not None and computer is not None:
        for line in comparison_lines(survey, computer, ports):
            say(line)
    return 0
