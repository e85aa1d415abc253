"""Which sites may open a link."""

from __future__ import annotations

from unittest import TestCase

from cravik.core.link.sites import LOCAL, Site, frame_ancestors, is_allowed, site_in

KITES = Site("kites.example")
BELOW = Site("kites.example", subdomains=True)


class SitesTest(TestCase):
    def test_a_site_is_read_however_it_is_typed(self) -> None:
        for typed, host in (
            ("https://www.Kites.example/buy?x=1#y", "kites.example"),
            ("kites.example:8443", "kites.example"),
            ("www.kites.example.", "kites.example"),
            ("shop.kites.example", "shop.kites.example"),
            ("drachen-müller.example", "xn--drachen-mller-4ob.example"),
            ("http://localhost:5500/page.html", LOCAL),
            ("127.0.0.1:8000", LOCAL),
            ("localhost", LOCAL),
            ("", ""),
            ("kites", ""),
            ("10.0.0.7", ""),
            ("https://[x", ""),
            ("kites.example; script-src *", ""),
            ("*.kites.example", ""),
        ):
            self.assertEqual(site_in(typed), host, typed)

    def test_an_origin_is_allowed_by_its_host_alone(self) -> None:
        for origin, sites, allowed in (
            ("https://kites.example", [KITES], True),
            ("https://www.kites.example:8080", [KITES], True),
            ("http://www.kites.example", [KITES], False),
            ("https://shop.kites.example", [KITES], False),
            ("https://shop.kites.example", [BELOW], True),
            ("https://www.kites.example", [BELOW], True),
            ("https://notkites.example", [BELOW], False),
            ("https://kites.example.evil.example", [BELOW], False),
            ("https://evil.example", [KITES, Site("reef.example")], False),
            ("", [KITES], False),
            ("https://[x", [KITES], False),
        ):
            self.assertIs(is_allowed(origin, sites), allowed, (origin, sites))
        self.assertTrue(is_allowed("http://www.kites.example", [KITES], "http"))

    def test_the_own_machine_is_allowed_until_a_site_is_named(self) -> None:
        for origin in ("null", "http://localhost:5500", "http://127.0.0.1", "http://[::1]:9000", "http://a.localhost"):
            self.assertTrue(is_allowed(origin, []), origin)
            self.assertFalse(is_allowed(origin, [KITES]), origin)
            self.assertTrue(is_allowed(origin, [KITES, Site(LOCAL)]), origin)
        self.assertFalse(is_allowed("https://kites.example", []))

    def test_a_policy_says_the_same(self) -> None:
        self.assertEqual(frame_ancestors([KITES]), ["kites.example:*", "www.kites.example:*"])
        self.assertIn("*.kites.example:*", frame_ancestors([BELOW]))
        self.assertIn("file:", frame_ancestors([]))
        self.assertNotIn("file:", frame_ancestors([KITES]))
