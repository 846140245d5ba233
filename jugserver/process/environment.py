"""The environment, read in one place and refused at start when wrong."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Literal

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict


class Environment(BaseSettings):
    """What ``./jug`` hands to the server. Every name starts with OAKENJUG_."""

    model_config = SettingsConfigDict(env_prefix="OAKENJUG_", extra="ignore")

    mode: Literal["demo", "shop", "test"] = Field("shop", description="demo shows sign-ins and allows loading demo data")
    secret_file: Path | None = Field(None, description="file with the secret key, mode 0600, outside the project")
    data_dir: Path | None = Field(None, description="where this data is: its disk is looked at, and a log of requests is kept there")
    db_host: str = "127.0.0.1"
    db_port: int = 5432
    db_name: str = "oakenjug"
    db_user: str = "oakenjug"
    db_password_file: Path | None = None
    db_owner: str | None = Field(None, description="the role that migrates, where the app connects as one that owns nothing")
    db_owner_password_file: Path | None = None
    db_pool: bool | None = Field(None, description="share connections between requests; as a rule yes, except in the process of a test")
    allowed_hosts: str = "127.0.0.1,localhost,[::1]"
    till_hosts: str = Field("", description="hosts of tills that may be asked what they sold, with commas between; none in a shop")
    https: bool = Field(False, description="served over HTTPS: cookies are never sent without it")
    workers: int | None = Field(None, ge=0, le=64, description="computing processes; one less than cores, and in tests none, if left out")
    idle_minutes: int = Field(60, ge=0, le=1440, description="after so long without anybody at it a tablet asks for a PIN; 0 for never")
    trusted_proxies: str = Field("", description="addresses of proxies whose X-Forwarded headers are believed, with commas between; none if empty")
    debug: bool = False
    web_dist: Path = Path(__file__).resolve().parents[2] / "web" / "dist"

    def secret_key(self) -> str:
        if self.secret_file is None:
            if self.mode == "test":
                return "tests-only-" + "x" * 50
            raise SystemExit("OAKENJUG_SECRET_FILE is not set. Start the app with ./jug start or ./jug demo.")
        return self.secret_file.read_text(encoding="utf-8").strip()

    def pools(self) -> bool:
        return self.mode != "test" if self.db_pool is None else self.db_pool

    def db_password(self) -> str:
        return "" if self.db_password_file is None else self.db_password_file.read_text(encoding="utf-8").strip()


@cache
def environment() -> Environment:
    return Environment()
