"""From nothing to a first payment over HTTPS, behind Debian's nginx with the sample of ``deploy/``."""

from __future__ import annotations

import os
import shutil
import socket
import ssl
import subprocess
import tempfile
import time
import unittest
import urllib.error
import urllib.request
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urljoin, urlsplit

from playwright.sync_api import BrowserContext, sync_playwright

from tests.browser.base import fill_in, open_business
from tests.running import PROJECT, RunningApplication

NAME = "pay.windlestraw.example"
_AROUND = """
daemon off; pid {folder}/pid; error_log {folder}/errors; worker_processes 1;
events {{ worker_connections 256; }}
http {{
    access_log off;
    client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy; fastcgi_temp_path {folder}/f;
    uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
    include {folder}/site;
}}
"""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass(frozen=True)
class Answer:
    status: int
    headers: Mapping[str, str]
    body: bytes


class _NoRedirect(urllib.request.HTTPRedirectHandler):
    def redirect_request(self, *_: object) -> None:
        return None


class BehindNginxTest(unittest.TestCase):
    def setUp(self) -> None:
        self.assertIsNotNone(shutil.which("nginx"), "tools/ensure-debian.sh installs it")
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.folder.chmod(0o755)
        self.port, self.plain = free_port(), free_port()
        self.public = f"https://{NAME}:{self.port}"
        self.application = RunningApplication(
            self.folder / "data",
            CRAVIK_HTTPS="1",
            CRAVIK_TRUSTED_PROXIES="1",
            CRAVIK_PUBLIC_ADDRESS=self.public,
            CRAVIK_ALLOWED_HOSTS=NAME,
        )
        self.acts: list[str] = []
        self.began = time.monotonic()
        self.application.start()
        self.addCleanup(self.application.__exit__, None, None, None)
        self.act("It is started on an empty folder, and prints where the first business is opened.")
        self.start_nginx()

    def act(self, words: str) -> None:
        self.acts.append(f"{time.monotonic() - self.began:5.1f} s  {words}")

    def start_nginx(self) -> None:
        """With the sample as it is shipped, but for ports and the place of the certificate."""
        subject = ["-subj", f"/CN={NAME}", "-addext", f"subjectAltName=DNS:{NAME}"]
        keys = ["-keyout", str(self.folder / "key.pem"), "-out", str(self.folder / "certificate.pem")]
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", *subject, *keys],
            check=True,
            capture_output=True,
        )
        site = (PROJECT / "deploy" / "nginx.conf").read_text()
        for shipped, here in (
            ("listen 80;", f"listen 127.0.0.1:{self.plain};"),
            ("listen [::]:80;", ""),
            ("listen 443 ssl http2;", f"listen 127.0.0.1:{self.port} ssl http2;"),
            ("listen [::]:443 ssl http2;", ""),
            ("127.0.0.1:8000", f"127.0.0.1:{self.application.port}"),
            ("/etc/ssl/cravik", str(self.folder)),
        ):
            self.assertIn(shipped, site)
            site = site.replace(shipped, here)
        (self.folder / "site").write_text(site)
        (self.folder / "around").write_text(_AROUND.format(folder=self.folder))
        proxy = subprocess.Popen(["nginx", "-c", str(self.folder / "around")], stderr=subprocess.DEVNULL)
        self.addCleanup(proxy.wait, 10)
        self.addCleanup(proxy.terminate)
        deadline = time.monotonic() + 10
        while time.monotonic() < deadline:
            with socket.socket() as asking:
                if asking.connect_ex(("127.0.0.1", self.port)) == 0:
                    break
            time.sleep(0.05)
        self.act("nginx speaks HTTPS in front of it.")

    def browser(self) -> BrowserContext:
        playwright = sync_playwright().start()
        self.addCleanup(playwright.stop)
        rules = f"MAP {NAME} 127.0.0.1, MAP * ~NOTFOUND , EXCLUDE 127.0.0.1"
        chromium = playwright.chromium.launch(
            executable_path=os.environ.get("CHROMIUM", "/usr/bin/chromium"),
            args=["--disable-gpu", "--disable-quic", f"--host-resolver-rules={rules}"],
        )
        self.addCleanup(chromium.close)
        return chromium.new_context(ignore_https_errors=True)

    def test_from_nothing_to_a_first_payment(self) -> None:
        context = self.browser()
        seller = context.new_page()
        seller.goto(f"{self.public}/start/")
        seller.get_by_text("Open the business").wait_for(state="detached")
        self.act("Whoever comes through the proxy without the token cannot open a business.")
        token = (self.application.data / "start-token").read_text().strip()
        seller.goto(f"{self.public}/start/?token={token}")
        open_business(seller)
        self.act("With it, the business is opened.")
        seller.get_by_label("Say what you sell").fill("Kite mending 24")
        seller.get_by_role("button", name="Create draft").click()
        seller.get_by_role("button", name="Publish").click()
        seller.get_by_role("button", name="Copy the address").wait_for()
        address = urljoin(self.public, seller.locator("#address").get_attribute("href"))
        self.act("A line is typed, and the link is live.")
        buyer = context.browser.new_context(ignore_https_errors=True).new_page()
        buyer.goto(address)
        fill_in(buyer)
        buyer.get_by_role("button", name="Pay €24.00").click()
        buyer.get_by_role("heading", name="Thank you, Maren Saltmarsh").wait_for()
        self.assertTrue(buyer.url.startswith(f"{self.public}/paid/"))
        self.act("A buyer has paid over HTTPS, and holds the receipt.")
        print("", *self.acts, sep="\n")
        self.assertEqual(self.application.query("SELECT sum(amount_minor) FROM payments_movement"), [(2400,)])
        cookies = {cookie["name"]: cookie for cookie in context.cookies()}
        self.assertTrue(cookies["cravik_seller"]["secure"] and cookies["cravik_seller"]["httpOnly"])

    def test_what_a_proxy_has_to_keep(self) -> None:
        head = self.ask(f"https://127.0.0.1:{self.port}/sign-in/", method="HEAD")
        self.assertEqual(head.headers["Strict-Transport-Security"], f"max-age={365 * 24 * 3600}")
        self.assertEqual(self.ask(f"http://127.0.0.1:{self.plain}/sign-in/").status, 301)
        for path in ("/healthy/deep/", "/metrics"):
            self.assertEqual(self.ask(f"https://127.0.0.1:{self.port}{path}").status, 404, "it was passed on")
        self.application.stop()
        down = self.ask(f"https://127.0.0.1:{self.port}/sign-in/")
        self.assertEqual((down.status, down.headers["Retry-After"]), (503, "5"))
        self.assertIn(b"One moment, please", down.body)

    def ask(self, address: str, method: str = "GET") -> Answer:
        unchecked = ssl.create_default_context()
        unchecked.check_hostname, unchecked.verify_mode = False, ssl.CERT_NONE
        request = urllib.request.Request(address, method=method, headers={"Host": urlsplit(self.public).netloc})
        opener = urllib.request.build_opener(_NoRedirect, urllib.request.HTTPSHandler(context=unchecked))
        try:
            with opener.open(request, timeout=20) as answer:
                return Answer(answer.status, dict(answer.headers), answer.read())
        except urllib.error.HTTPError as answer:
            return Answer(answer.code, dict(answer.headers), answer.read())
