"""./jug: the one command."""

from __future__ import annotations

import argparse
import signal
import sys
from pathlib import Path

from jugtool import backup, certificate, doctor, dump, generated, serve
from jugtool.places import DEMO, SHOP
from jugtool.say import Failed, report, say
from jugtool.testing import run as testing
from jugtool.testing.suites import SUITES


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="jug", description="Oaken Jug, for what a coffee bar pours from a bottle.")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, words in (
        ("demo", "serve invented demo data on loopback; never touches real data"),
        ("start", "serve the shop's own data"),
        ("dev", "like demo, rebuilding and reloading on change"),
    ):
        one = commands.add_parser(name, help=words)
        one.add_argument("--port", type=int, help="port on 127.0.0.1")
        if name != "dev":
            one.add_argument("--lan", action="store_true", help="serve tablets on this network, over HTTPS with a certificate of this kitchen's own")
            one.add_argument("--address", help="the address to serve them at; else this machine's own")
            one.add_argument("--behind", metavar="NAME", help="a reverse proxy serves it over HTTPS under this name")
            one.add_argument("--proxy", metavar="ADDRESSES", help="of --behind: where the proxy asks from, with commas between; else 127.0.0.1")
            one.add_argument("--listen", metavar="ADDRESS", help="of --behind: where the proxy finds it; else 127.0.0.1")
    test = commands.add_parser("test", help="run every test, or some")
    test.add_argument("names", nargs="*", help=f"a suite ({', '.join(SUITES)}), or the name of a test, its class, its file")
    test.add_argument("--failed", action="store_true", help="what failed when it last ran")
    test.add_argument("--deep", action="store_true", help="every seed, every dump, every example: up to an hour")
    test.add_argument("--at-once", type=int, metavar="N", help="so many processes at once; else one more than there are cores, four at most")
    test.add_argument("--keep-times", action="store_true", help="for developers: keep the times of this run for new clones")
    commands.add_parser("install", help="install what is missing, and start nothing")
    commands.add_parser("stop", help="stop what runs in the background")
    commands.add_parser("doctor", help="say what is where and what is missing")
    for name, words in (("backup", "write the data to FILE"), ("restore", "put FILE back")):
        one = commands.add_parser(name, help=words)
        one.add_argument("file", type=Path)
        one.add_argument("--demo", action="store_true", help="the demo's data instead of the shop's")
        if name == "restore":
            one.add_argument("--replace", action="store_true", help="overwrite what is there (a copy is kept)")
    verifying = commands.add_parser("verify", help="say whether what is kept is what was kept: versions, batches, logs")
    verifying.add_argument("--demo", action="store_true", help="the demo's data")
    person = commands.add_parser("person", help="add a person who may sign in, set a new password or PIN, or take their sign-in away")
    person.add_argument("username")
    person.add_argument("--name", help="as shown to others")
    person.add_argument("--role", choices=("lead", "prep", "view"), help="of somebody new a lead, if left out; what is left out of others stays")
    person.add_argument("--site", help="of somebody new the only one there is, if left out")
    what = person.add_mutually_exclusive_group()
    for flag, words in serve.OF_A_PERSON.items():
        what.add_argument(f"--{flag}", action="append_const", const=flag, dest="what", help=words)
    core = commands.add_parser("core", help="the engine from a shell: jug core walk < doc.json", add_help=False)
    core.add_argument("arguments", nargs=argparse.REMAINDER)
    till = commands.add_parser("till", help="a simulated till that says over HTTP what the demo sold")
    till.add_argument("--port", type=int, default=8690)
    dumped = commands.add_parser("dump", help="for developers: keep the demo's data as SQL for later upgrade tests")
    dumped.add_argument("name")
    commands.add_parser("lock", help="for developers: write the API description and its types anew")
    return parser


def _lan(chosen: argparse.Namespace) -> str | None:
    """The address to serve tablets at; None for loopback only."""
    if not chosen.lan:
        if chosen.address is not None:
            raise Failed("Reading the command", "--address says where tablets reach the app, and --lan is not given.", "add --lan.")
        return None
    return certificate.lan_address(chosen.address)


def _behind(chosen: argparse.Namespace) -> serve.Behind | None:
    """The reverse proxy it is served behind; None without one."""
    if chosen.behind is None:
        if chosen.proxy is not None or chosen.listen is not None:
            raise Failed("Reading the command", "--proxy and --listen are of a proxy, and --behind is not given.", "add --behind NAME.")
        return None
    if chosen.lan:
        raise Failed("Reading the command", "--lan serves HTTPS itself, and --behind leaves that to a proxy.", "give one of the two.")
    return serve.Behind(chosen.behind, chosen.proxy or "127.0.0.1", chosen.listen or "127.0.0.1")


def main() -> int:
    # Where this was started in the background, interrupts may be ignored, for it and for everything it starts.
    for each in (signal.SIGINT, signal.SIGTERM):
        signal.signal(each, signal.default_int_handler)
    chosen = _parser().parse_args()
    try:
        match chosen.command:
            case "demo":
                return serve.serve(DEMO, mode="demo", port=chosen.port, lan=_lan(chosen), behind=_behind(chosen))
            case "dev":
                return serve.serve(DEMO, mode="demo", port=chosen.port, watch=True)
            case "start":
                return serve.serve(SHOP, mode="shop", port=chosen.port, lan=_lan(chosen), behind=_behind(chosen), written=backup.write)
            case "install":
                return serve.install_all()
            case "stop":
                stopped = [data.name for data in (SHOP, DEMO) if serve.stop(data)]
                say(f"Stopped {' and '.join(stopped)}." if stopped else "Nothing was running.")
                return 0
            case "doctor":
                return doctor.doctor()
            case "test":
                return testing.run(chosen.names, failed=chosen.failed, deep=chosen.deep, at_once=chosen.at_once, keep_times=chosen.keep_times)
            case "backup":
                return backup.backup(DEMO if chosen.demo else SHOP, chosen.file.absolute())
            case "restore":
                return backup.restore(DEMO if chosen.demo else SHOP, chosen.file.absolute(), replace=chosen.replace)
            case "verify":
                return backup.verify(DEMO if chosen.demo else SHOP)
            case "person":
                said = {"name": chosen.name, "role": chosen.role, "site": chosen.site}
                return serve.person(chosen.username, {key: value for key, value in said.items() if value is not None}, chosen.what or [])
            case "till":
                return serve.till(chosen.port)
            case "dump":
                return dump.dump(chosen.name)
            case "lock":
                return generated.write()
            case _:
                return serve.core(chosen.arguments)
    except Failed as error:
        report(error)
        return 1
    except KeyboardInterrupt:
        say("")
        return 130


if __name__ == "__main__":
    sys.exit(main())
