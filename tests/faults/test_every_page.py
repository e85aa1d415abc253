"""Every page that the sample leads to is answered by the application as it is served, by processes started afresh."""

from __future__ import annotations

import re
import unittest
import urllib.error
import urllib.parse
import urllib.request
from collections import Counter, deque
from html.parser import HTMLParser

from tests.running import RunningApplication
from tests.sampling import count_of

#: Pages that are opened of each kind: of one address but for its numbers and what is asked.
_OF_EACH_KIND = count_of(3, 1)
#: A draft's addresses are shown where it is handed out, and are nothing to buyers until it is published.
_OF_DRAFTS = """
    SELECT '/for/' || slug || '/' FROM links_address JOIN links_link ON links_link.id = link_id WHERE state = 'draft'
    UNION SELECT '/k/' || code || '/' FROM links_spot JOIN links_link ON links_link.id = link_id WHERE state = 'draft'
"""
_SIGN_IN = {"username": "orla@windlestraw.example", "password": "kites on the beach"}


class EveryPageTest(unittest.TestCase):
    def test_nothing_that_is_linked_fails_or_is_missing(self) -> None:
        application = RunningApplication.on_sample(self.addCleanup)
        visitor = _Visitor(application.address)
        visitor.sign_in()
        kinds: Counter[str] = Counter()
        waiting, wrong = deque(["/"]), []
        met = set(waiting)
        while waiting:
            path = waiting.popleft()
            status, links = visitor.open(path)
            if status != 200:
                wrong.append((status, path))
            for link in sorted(links - met):
                kind = re.sub(r"=[^&]*", "=", re.sub(r"\d+|[0-9a-f-]{12,}", "0", link))
                kinds[kind] += 1
                if kinds[kind] <= _OF_EACH_KIND:
                    met.add(link)
                    waiting.append(link)
        of_drafts = tuple(path for (path,) in application.query(_OF_DRAFTS))
        self.assertEqual([each for each in wrong if not each[1].startswith(of_drafts)], [])
        self.assertLessEqual({status for status, _ in wrong}, {404})
        self.assertGreater(len(met), 60 * _OF_EACH_KIND)
        self.assertNotIn("Traceback", application.complaints())


class _Visitor:
    """A seller's browser, as far as following links goes."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._browser = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())
        self._browser.addheaders = [("User-Agent", "Mozilla/5.0 (X11; Linux x86_64) Chrome/130.0")]

    def sign_in(self) -> None:
        """Raises ``urllib.error.HTTPError`` where it is refused."""
        with self._browser.open(f"{self._address}/sign-in/") as answer:
            (token,) = re.findall(r'name="csrfmiddlewaretoken" value="([^"]+)"', answer.read().decode())
        body = urllib.parse.urlencode(_SIGN_IN | {"csrfmiddlewaretoken": token}).encode()
        self._browser.open(f"{self._address}/sign-in/", body).close()

    def open(self, path: str) -> tuple[int, set[str]]:
        """The status, and the addresses of this application that the page links to or shows."""
        try:
            with self._browser.open(self._address + path, timeout=60) as answer:
                is_page = answer.headers.get_content_type() == "text/html"
                text = answer.read().decode() if is_page else ""
                place = answer.url
        except urllib.error.HTTPError as error:
            error.close()
            return error.code, set()
        found = _Links()
        found.feed(text)
        absolute = {urllib.parse.urldefrag(urllib.parse.urljoin(place, link))[0] for link in found.links}
        own = f"{self._address}/"
        return 200, {link.removeprefix(self._address) for link in absolute if link.startswith(own)}


class _Links(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.links: set[str] = set()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        attributes = dict(attrs)
        named = attributes.get("href") if tag == "a" else attributes.get("src") if tag in ("img", "iframe") else None
        if named and not named.startswith("/static/"):
            self.links.add(named)
