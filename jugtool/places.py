"""Where things are: the project, its tools, and data in a named directory outside it."""

from __future__ import annotations

import os
import secrets
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"


def data_home() -> Path:
    """Where all named data directories are. OAKENJUG_DATA overrides.

    Links are followed: a server is known by the directory it really works in.
    """
    override = os.environ.get("OAKENJUG_DATA")
    if override:
        return Path(override).expanduser().resolve()
    if os.geteuid() == 0:
        return Path("/var/lib/oakenjug")
    return (Path.home() / ".local" / "share" / "oakenjug").resolve()


@dataclass(frozen=True)
class Data:
    """One named data directory: a database cluster, a secret key, a database password."""

    name: str

    @property
    def home(self) -> Path:
        return data_home() / self.name

    @property
    def cluster(self) -> Path:
        return self.home / "pg"

    @property
    def secret(self) -> Path:
        return self.home / "secret"

    @property
    def password(self) -> Path:
        return self.home / "db-password"

    @property
    def app_password(self) -> Path:
        """Of the role that the app connects as."""
        return self.home / "db-app-password"

    @property
    def serving(self) -> Path:
        """Written while the app serves: its process and address."""
        return self.home / "serving.json"

    def make(self) -> None:
        """Make the directory and its secrets, if they are not there."""
        self.home.mkdir(parents=True, exist_ok=True)
        for file in (self.secret, self.password, self.app_password):
            if not file.exists():
                descriptor = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
                with os.fdopen(descriptor, "w", encoding="ascii") as out:
                    out.write(secrets.token_urlsafe(48))


def app_environment(data: Data, mode: str, port: int, owner: str) -> dict[str, str]:
    """The environment the app is served with: it connects as a role that owns nothing, and knows the owner to migrate."""
    return {
        **server_environment(data, mode, port),
        "OAKENJUG_DB_USER": APP_ROLE,
        "OAKENJUG_DB_PASSWORD_FILE": str(data.app_password),
        "OAKENJUG_DB_OWNER": owner,
        "OAKENJUG_DB_OWNER_PASSWORD_FILE": str(data.password),
    }


#: What the app connects as.
APP_ROLE = "oakenjug_app"
SHOP = Data("shop")
DEMO = Data("demo")


def server_environment(data: Data, mode: str, port: int) -> dict[str, str]:
    """The environment the server is started with."""
    return {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "jugserver.config.settings",
        "PYTHONPATH": str(ROOT),
        "OAKENJUG_MODE": mode,
        "OAKENJUG_SECRET_FILE": str(data.secret),
        "OAKENJUG_DATA_DIR": str(data.home),
        "OAKENJUG_DB_PASSWORD_FILE": str(data.password),
        "OAKENJUG_DB_PORT": str(port),
    }
