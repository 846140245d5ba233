"""A certificate of this kitchen's own, so that tablets on its network reach the app encrypted.

OpenSSL makes it. A tablet that trusts ``kitchen-ca.crt`` trusts the app, and nothing else:
the authority may only sign for the addresses it was made for.
"""

from __future__ import annotations

import ipaddress
import os
import shutil
import socket
import ssl
import subprocess
import tempfile
from pathlib import Path

from jugtool.places import Data
from jugtool.say import Failed

_AUTHORITY_DAYS, _DAYS = "3650", "397"
#: It is made anew this long before it ends. [s]
_SOON_S = str(30 * 86_400)


class Tls:
    """Where a data directory keeps its certificates; keys are for their owner only."""

    def __init__(self, data: Data) -> None:
        self.home = data.home / "tls"
        self.authority, self.authority_key = self.home / "kitchen-ca.crt", self.home / "kitchen-ca.key"
        self.certificate, self.key = self.home / "app.crt", self.home / "app.key"

    def context(self) -> ssl.SSLContext:
        """A client's view: trusts this kitchen and nobody else."""
        return ssl.create_default_context(cafile=str(self.authority))

    def fingerprint(self) -> str:
        """The authority's SHA-256, to compare with what a tablet shows."""
        return _openssl("x509", "-in", str(self.authority), "-noout", "-fingerprint", "-sha256").strip().partition("=")[2]

    def ensure(self, address: str) -> None:
        """Make what is missing, for another address, or about to end."""
        self.home.mkdir(parents=True, exist_ok=True, mode=0o700)
        if not self._authority_is_bound(address):
            _key(self.authority_key)
            _openssl(
                "req", "-x509", "-new", "-key", str(self.authority_key), "-sha256", "-days", _AUTHORITY_DAYS, "-out", str(self.authority),
                "-subj", "/CN=Oaken Jug, this kitchen", "-addext", "basicConstraints=critical,CA:TRUE,pathlen:0",
                "-addext", "keyUsage=critical,keyCertSign,cRLSign", "-addext", f"nameConstraints=critical,{_bounds(address)}",
            )  # fmt: skip
            self.certificate.unlink(missing_ok=True)
        if not self._serves(address):
            self._sign(address)

    def _authority_is_bound(self, address: str) -> bool:
        """Whether there is an authority that may sign for this address and for no name or address outside this network."""
        if not self.authority.exists() or not self.authority_key.exists():
            return False
        told = _openssl("x509", "-in", str(self.authority), "-noout", "-ext", "nameConstraints")
        wanted = [f"{each.network_address}/{each.netmask}" for each in _own(address) if each.version == 4]
        return "Name Constraints: critical" in told and all(each in told for each in wanted)

    def _serves(self, address: str) -> bool:
        if not self.certificate.exists() or not self.key.exists():
            return False
        check = subprocess.run(
            [_program(), "x509", "-in", str(self.certificate), "-noout", "-checkend", _SOON_S, "-checkip", address],
            capture_output=True,
            text=True,
            check=False,
        )
        return check.returncode == 0 and "does match" in check.stdout

    def _sign(self, address: str) -> None:
        with tempfile.TemporaryDirectory() as scratch:
            request, extensions, signed = Path(scratch) / "request", Path(scratch) / "extensions", Path(scratch) / "crt"
            _key(self.key)
            extensions.write_text(
                f"subjectAltName=IP:{address}\nbasicConstraints=critical,CA:FALSE\nkeyUsage=critical,digitalSignature\nextendedKeyUsage=serverAuth\n",
                encoding="ascii",
            )
            _openssl("req", "-new", "-key", str(self.key), "-out", str(request), "-subj", "/CN=Oaken Jug, the app")
            _openssl(
                "x509", "-req", "-in", str(request), "-CA", str(self.authority), "-CAkey", str(self.authority_key), "-CAcreateserial",
                "-CAserial", str(Path(scratch) / "serial"), "-sha256", "-days", _DAYS, "-extfile", str(extensions), "-out", str(signed),
            )  # fmt: skip
            shutil.move(signed, self.certificate)


#: What no network outside has: addresses of kitchens, homes and machines themselves (RFC 1918, 3927, 4193, 4291, 1122).
_PRIVATE = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "fc00::/7", "fe80::/10", "::1/128")


def _own(address: str) -> list[ipaddress.IPv4Network | ipaddress.IPv6Network]:
    """The networks the authority may sign in: private ones, and this address alone where it is none of theirs."""
    networks = [ipaddress.ip_network(each) for each in _PRIVATE]
    if not any(ipaddress.ip_address(address) in each for each in networks):
        networks.append(ipaddress.ip_network(address))
    return networks


def _bounds(address: str) -> str:
    """What the authority is bound to, as OpenSSL writes it: addresses of this network, and no name at all but one that nobody can have."""
    addresses = [f"permitted;IP:{each.network_address}/{each.netmask}" for each in _own(address)]
    return ",".join([*addresses, "permitted;DNS:kitchen.invalid", "permitted;email:kitchen.invalid", "permitted;URI:kitchen.invalid"])


def lan_address(wanted: str | None) -> str:
    """The address to serve tablets at: the one asked for, else this machine's own on its network.

    Raises Failed for what is no address, or where there is none.
    """
    if wanted is not None:
        try:
            return str(ipaddress.ip_address(wanted))
        except ValueError:
            raise Failed("Reading the address", f"“{wanted}” is none.", "give it as four numbers, as the router lists it.") from None
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("192.0.2.1", 9))  # nothing is sent: this only asks which way out there is
            found: str = probe.getsockname()[0]
        except OSError:
            raise Failed("Finding this machine's address", "it is on no network.", "connect it, or give --address.") from None
    return found


def _program() -> str:
    found = shutil.which("openssl")
    if found is None:
        raise Failed("Making a certificate", "openssl is not installed.", "apt-get install -y openssl")
    return found


def _openssl(*arguments: str) -> str:
    done = subprocess.run([_program(), *arguments], capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise Failed("Making a certificate", done.stderr.strip()[-500:], "remove the tls directory that ./jug doctor names, and try again.")
    return done.stdout


def _key(path: Path) -> None:
    """A new private key, readable by its owner from the first byte on."""
    path.unlink(missing_ok=True)
    made = _openssl("genpkey", "-algorithm", "EC", "-pkeyopt", "ec_paramgen_curve:P-256")
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w", encoding="ascii") as out:
        out.write(made)
