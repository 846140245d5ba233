"""The kitchen's own certificate authority: what it signs is trusted, and what it must not sign is not."""

from __future__ import annotations

import os
import subprocess
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from jugtool.certificate import Tls
from jugtool.places import SHOP


class Authority(unittest.TestCase):
    def setUp(self) -> None:
        scratch = tempfile.TemporaryDirectory()
        self.addCleanup(scratch.cleanup)
        self.scratch = Path(scratch.name)
        self.enterContext(mock.patch.dict(os.environ, {"OAKENJUG_DATA": scratch.name}))
        self.tls = Tls(SHOP)

    def verify(self, certificate: Path) -> str:
        done = subprocess.run(
            ["openssl", "verify", "-x509_strict", "-CAfile", str(self.tls.authority), str(certificate)], capture_output=True, text=True, check=False
        )
        return "OK" if done.returncode == 0 else done.stderr

    def signed(self, names: str) -> Path:
        """A certificate for other names, signed with the authority's key by somebody who has it."""
        request, extensions, certificate = (self.scratch / each for each in ("request", "extensions", "forged.crt"))
        extensions.write_text(f"subjectAltName={names}\n", encoding="ascii")
        for arguments in (
            ["req", "-new", "-key", str(self.tls.key), "-out", str(request), "-subj", "/CN=Somebody else, elsewhere"],
            ["x509", "-req", "-in", str(request), "-CA", str(self.tls.authority), "-CAkey", str(self.tls.authority_key), "-CAcreateserial",
             "-days", "30", "-extfile", str(extensions), "-out", str(certificate)],
        ):  # fmt: skip
            subprocess.run(["openssl", *arguments], capture_output=True, check=True)
        return certificate

    def test_it_signs_for_this_network_and_is_believed_for_no_name_and_no_address_outside(self) -> None:
        self.tls.ensure("192.168.7.5")
        self.assertEqual(self.verify(self.tls.certificate), "OK")
        for names in (
            "DNS:bank.example.com",
            "DNS:kitchen.local",
            "IP:198.51.100.7",
            "email:a@example.com",
            "URI:https://example.com/",
            "IP:192.168.7.5,DNS:x.example",
        ):
            with self.subTest(names):
                self.assertIn("permitted subtree violation", self.verify(self.signed(names)))
        self.assertEqual(self.verify(self.signed("IP:10.1.2.3")), "OK")

    def test_it_stays_when_the_address_changes_within_and_is_made_anew_for_one_outside(self) -> None:
        self.tls.ensure("192.168.7.5")
        made = self.tls.authority.read_bytes()
        self.tls.ensure("10.0.0.9")
        self.assertEqual(self.tls.authority.read_bytes(), made)
        self.tls.ensure("198.51.100.7")
        self.assertNotEqual(self.tls.authority.read_bytes(), made)
        self.assertEqual(self.verify(self.tls.certificate), "OK")

    def test_one_of_before_that_is_bound_to_nothing_is_made_anew(self) -> None:
        self.tls.ensure("192.168.7.5")
        subprocess.run(
            ["openssl", "req", "-x509", "-new", "-key", str(self.tls.authority_key), "-days", "30", "-out", str(self.tls.authority), "-subj", "/CN=Of before"],
            capture_output=True, check=True,
        )  # fmt: skip
        self.tls.ensure("192.168.7.5")
        self.assertEqual(self.verify(self.tls.certificate), "OK")
        self.assertIn("permitted subtree violation", self.verify(self.signed("DNS:bank.example.com")))


if __name__ == "__main__":
    unittest.main()
