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
        with tempfile.TemporaryDirectory() as scratch:
            dump = Path(scratch) / "database.dump"
            postgres.client(data, port, "pg_dump", "-Fc", "--no-owner", "-f", str(dump))
            manifest = {
                "format": _FORMAT, "made_at": time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime()), "data": data.name,
                "sha256": hashlib.sha256(dump.read_bytes()).hexdigest(),
            }  # fmt: skip
            partial = target.with_name(target.name + ".partial")
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
        if started:
            postgres.stop(data)
    say(f"Backed up {data.home} to {target} ({target.stat().st_size / 1024:.0f} kB). It holds names and password hashes: keep it safe.")
    return 0


def restore(data: Data, source: Path, *, replace: bool) -> int:
    """Put a backup into this data's database; refuses to overwrite unless told to."""
    debian.ensure()
    install.python_packages("app")
    if serve.serving(data) is not None:
        raise Failed("Restoring", "the app is running on this data.", "stop it first with ./jug stop.")
    with tempfile.TemporaryDirectory() as scratch:
        dump = Path(scratch) / "database.dump"
        try:
            with tarfile.open(source, "r:gz") as archive:
                manifest = json.load(archive.extractfile("manifest.json") or io.BytesIO(b"{}"))
                dump.write_bytes((archive.extractfile("database.dump") or io.BytesIO()).read())
        except (OSError, EOFError, zlib.error, tarfile.TarError, KeyError, ValueError) as error:
            raise Failed("Reading the backup", str(error), "give a file that ./jug backup wrote.") from None
        if manifest.get("format") != _FORMAT or hashlib.sha256(dump.read_bytes()).hexdigest() != manifest.get("sha256"):
            raise Failed("Reading the backup", "its contents do not match its own hash.", "use another copy of it.")
        port, started = postgres.start(data)
        try:
            used = postgres.client(data, port, "psql", "-tAc", "select count(*) from pg_tables where schemaname = 'public'").strip() != "0"
            if used and not replace:
                raise Failed("Restoring", f"{data.home} already holds data.", "back it up, then add --replace.")
            if used:
                kept = data.home / f"before-restore-{time.strftime('%Y%m%d-%H%M%S')}.dump"
                postgres.client(data, port, "pg_dump", "-Fc", "--no-owner", "-f", str(kept))
                kept.chmod(0o600)
                say(f"What was there is kept in {kept}")
            postgres.client(data, port, "dropdb", "--force", postgres.DATABASE, database=None)
            postgres.client(data, port, "createdb", postgres.DATABASE, database=None)
            postgres.client(data, port, "pg_restore", "--no-owner", "--exit-on-error", "-d", postgres.DATABASE, str(dump))
            serve.manage(data, "demo" if data.name == "demo" else "shop", "migrate", "--no-input")
        finally:
            if started:
                postgres.stop(data)
    say(f"Restored {source} into {data.home}.")
    return 0
