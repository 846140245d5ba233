"""Backup to one file, restore from it."""

from __future__ import annotations

import hashlib
import io
import json
import tarfile
import tempfile
import time
import zlib
from pathlib import Path

from jugtool import debian, install, postgres, serve
from jugtool.places import Data
from jugtool.say import Failed, say

_FORMAT = "oakenjug.backup/1"


def backup(data: Data, target: Path) -> int:
    """Write the database of this data, with a manifest that carries its hash, to one file."""
    debian.ensure()
    install.python_packages("app")
    if not data.cluster.exists():
        raise Failed("Backing up", f"there is no data in {data.home}.", "start the app once, or name other data with --demo.")
    if target.exists():
        raise Failed("Backing up", f"{target} is there already.", "choose another name; nothing was overwritten.")
    port, started = postgres.start(data)
    try:
        write(data, port, target)
    finally:
        if started:
            postgres.stop(data)
    say(f"Backed up {data.home} to {target} ({target.stat().st_size / 1024:.0f} kB). It holds names and password hashes: keep it safe.")
    return 0


def write(data: Data, port: int, target: Path) -> None:
    """The database that runs at a port into one file, whole or not at all."""
    partial = target.with_name(target.name + ".partial")
    try:
        with tempfile.TemporaryDirectory() as scratch:
            dump = Path(scratch) / "database.dump"
            postgres.client(data, port, "pg_dump", "-Fc", "--no-owner", "--no-privileges", "-f", str(dump))
            manifest = {
                "format": _FORMAT, "made_at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime()), "data": data.name,
                "sha256": hashlib.sha256(dump.read_bytes()).hexdigest(),
            }  # fmt: skip
            with tarfile.open(partial, "w:gz") as archive:
                archive.add(dump, "database.dump")
                text = json.dumps(manifest, indent=2).encode()
                info = tarfile.TarInfo("manifest.json")
                info.size = len(text)
                archive.addfile(info, io.BytesIO(text))
            partial.chmod(0o600)
            partial.rename(target)
    except OSError as error:
        raise Failed("Backing up", str(error), "check the place and the free disk.") from None
    finally:
        partial.unlink(missing_ok=True)


def restore(data: Data, source: Path, *, replace: bool) -> int:
    """Put a backup into this data's database; refuses to overwrite unless told to.

    It is put into a database beside the one in use, brought up to date and looked at there, and takes its place only then:
    whatever goes wrong before leaves what is there as it is.
    """
    debian.ensure()
    install.python_packages("app")
    if serve.serving(data) is not None:
        raise Failed("Restoring", "the app is running on this data.", "stop it first with ./jug stop.")
    with tempfile.TemporaryDirectory() as scratch:
        dump = Path(scratch) / "database.dump"
        _unpack(source, dump, data)
        port, started = postgres.start(data)
        try:
            used = postgres.client(data, port, "psql", "-tAc", "select count(*) from pg_tables where schemaname = 'public'").strip() != "0"
            if used and not replace:
                raise Failed("Restoring", f"{data.home} already holds data.", "back it up, then add --replace.")
            _beside(data, port, dump)
            if used:
                kept = data.home / f"before-restore-{time.strftime('%Y%m%d-%H%M%S')}.dump"
                postgres.client(data, port, "pg_dump", "-Fc", "--no-owner", "--no-privileges", "-f", str(kept))
                kept.chmod(0o600)
                say(f"What was there is kept in {kept}; ./jug restore reads it too.")
            _swap(data, port)
        except OSError as error:
            raise Failed("Restoring", str(error), "check the free disk; what was there is as it was.") from None
        finally:
            postgres.client(data, port, "dropdb", "--if-exists", "--force", _BESIDE, database=None)
            if started:
                postgres.stop(data)
    say(f"Restored {source} into {data.home}.")
    return 0


#: Where a backup is put and looked at before it takes the place of what is in use.
_BESIDE = f"{postgres.DATABASE}_restored"
#: How PostgreSQL's own dumps begin: what was kept before an earlier restore.
_OWN_DUMP = b"PGDMP"


def _unpack(source: Path, dump: Path, data: Data) -> None:
    """The dump in a backup, which is whole and of this kind of data; or one that a restore kept."""
    try:
        with source.open("rb") as file:
            if file.read(len(_OWN_DUMP)) == _OWN_DUMP:
                dump.write_bytes(source.read_bytes())
                return
        with tarfile.open(source, "r:gz") as archive:
            manifest = json.load(archive.extractfile("manifest.json") or io.BytesIO(b"{}"))
            dump.write_bytes((archive.extractfile("database.dump") or io.BytesIO()).read())
    except (OSError, EOFError, zlib.error, tarfile.TarError, KeyError, ValueError) as error:
        raise Failed("Reading the backup", str(error), "give a file that ./jug backup wrote, or another copy of it.") from None
    if manifest.get("format") != _FORMAT or hashlib.sha256(dump.read_bytes()).hexdigest() != manifest.get("sha256"):
        raise Failed("Reading the backup", "its contents do not match its own hash.", "use another copy of it.")
    if manifest.get("data") != data.name:
        other = "add --demo" if manifest.get("data") == "demo" else "leave --demo out"
        raise Failed(
            "Reading the backup", f"it is of the {manifest.get('data')}'s data, and this is the {data.name}'s.", f"{other} to restore it there."
        )


def _beside(data: Data, port: int, dump: Path) -> None:
    """The dump in a database of its own, brought up to date and found to hold what this release reads."""
    postgres.client(data, port, "dropdb", "--if-exists", "--force", _BESIDE, database=None)
    postgres.client(data, port, "createdb", _BESIDE, database=None)
    try:
        postgres.client(data, port, "pg_restore", "--no-owner", "--no-privileges", "--exit-on-error", "-d", _BESIDE, str(dump))
    except Failed as error:
        raise Failed("Reading the backup", error.why, "use another copy of it; what was there is as it was.") from None
    mode = "demo" if data.name == "demo" else "shop"
    try:
        serve.manage(data, mode, "restored", database=_BESIDE)
    except Failed as error:
        raise Failed("Looking at the backup", error.why, "use another copy of it; what was there is as it was.") from None


def verify(data: Data) -> int:
    """Say whether what is kept is what was kept."""
    debian.ensure()
    install.python_packages("app")
    if not data.cluster.exists():
        raise Failed("Looking at what is kept", f"there is no data in {data.home}.", "start the app once, or name other data with --demo.")
    _, started = postgres.start(data)
    try:
        say(serve.manage(data, "demo" if data.name == "demo" else "shop", "verify").strip())
    finally:
        if started:
            postgres.stop(data)
    return 0


def _swap(data: Data, port: int) -> None:
    """The restored database in the place of the one in use."""
    postgres.client(data, port, "dropdb", "--force", postgres.DATABASE, database=None)
    postgres.client(data, port, "psql", "-c", f"alter database {_BESIDE} rename to {postgres.DATABASE}", database="postgres")
