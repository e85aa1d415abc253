"""The modules of the script for pages of others, each on its own in a real browser."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page

from cravik.share.on_pages.views import SCRIPT
from tests.browser.outside import OutsideTestCase

_MODULES = SCRIPT.parent.parent / "script"
_SAID = """({ version: 1, shows: "button", words: "Pay <b>it</b>", address: "https://pay.example/k/ABC234/",
  opens: "over", face: { ground: "#a63a28", ink: "#ffffff", deep: "#803020", radius: "2px",
  size: 1.2, above: 0.9, beside: 1.7, width: "words", align: "middle", hover: "turned", letters: "page" } })"""


class ModulesTest(OutsideTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.page: Page = self.new_page()
        self.page.route(
            "**/script/*.js", lambda route: route.fulfill(path=_MODULES / route.request.url.rpartition("/")[2])
        )
        self.page.goto(f"{self.outside}/")

    def run_with(self, module: str, code: str) -> Any:
        """What the code gives that has the module's exports in ``m``."""
        return self.page.evaluate(f"async () => {{ const m = await import('/script/{module}.js'); {code} }}")

    def test_an_address_is_read_as_it_is_pasted(self) -> None:
        for at, address in (
            ("https://pay.example/k/ABC234", "https://pay.example/k/ABC234/"),
            ("https://pay.example/k/ABC234/?x=1#y", "https://pay.example/k/ABC234/"),
            ("javascript:alert(1)", None),
            ("https://[x", None),
            ("https://else.example/k/ABC234", None),
            ("http://pay.example/k/ABC234", None),
            ("https://pay.example:8443/k/ABC234", None),
            ("https://pay.example@else.example/k/ABC234", None),
            ("http://127.0.0.1:8000/k/ABC234", "http://127.0.0.1:8000/k/ABC234/"),
            ("http://pay.windlestraw.localhost/k/A/", "http://pay.windlestraw.localhost/k/A/"),
            ("http://192.168.0.7/k/A/", None),
        ):
            trusted = ("https://pay.example", "http://127.0.0.1:8000", "http://pay.windlestraw.localhost")
            trust = "".join(
                f"m.trust('{origin}/x.js');" for origin in (*trusted, "http://192.168.0.7", "data:text/js,1")
            )
            self.assertEqual(self.run_with("asking", f"{trust} return m.addressOf({at!r})"), address, at)

    def test_only_what_has_the_shapes_that_there_are_is_drawn(self) -> None:
        origin = "https://pay.example"
        judge = f"const said = {_SAID}; %s; return m.isWellSaid(said, {origin!r});"
        card = """said.shows = "card"; said.card = { title: "Kite", price: "€1", seller: "S", sheet: "#ffffff",
          text: "#000000", soft: "#444444", rule: "#dddddd", picture: null }"""
        for right in (
            "0",
            "said.opens = 'new'",
            f"said.frame = '{origin}/k/A/?in=page'",
            card,
            f"{card}; said.card.picture = {{ address: '{origin}/p.webp', words: '', wide: 4, high: 3 }}",
        ):
            self.assertTrue(self.run_with("wellSaid", judge % right), right)
        for wrong in (
            "said.address = 'javascript:alert(1)'",
            "said.address = 'https://else.example/k/A/'",
            "said.address = 'http://pay.example/k/A/'",
            "said.address = null",
            "said.frame = 'javascript:alert(1)'",
            "said.frame = 'data:text/html,x'",
            "said.frame = 'https://pay.example.else.example/'",
            "said.frame = '/k/A/'",
            "said.words = { toString: () => 'x' }",
            "said.shows = 'script'",
            "said.shows = 'constructor'",
            "said.opens = 'x'",
            "said.face = null",
            "said.face.ground = 'red;}*{display:none'",
            "said.face.ink = '#fff'",
            "said.face.radius = '2px}:host{background:url(//else.example)'",
            "said.face.size = '1'",
            "said.face.size = Infinity",
            "said.face.above = -1",
            "said.face.hover = 'x'",
            "said.face.align = ['middle']",
            "said.shows = 'card'",
            f"{card}; said.card.rule = 'url(x)'",
            f"{card}; said.card.picture = {{ address: 'javascript:alert(1)', words: '', wide: 4, high: 3 }}",
            f"{card}; said.card.picture = {{ address: '{origin}/p.webp', words: '', wide: '4', high: 3 }}",
        ):
            self.assertFalse(self.run_with("wellSaid", judge % wrong), wrong)

    def test_it_asks_once_for_a_minute_and_again_after_a_failure(self) -> None:
        asked: list[str] = []
        said = self.page.evaluate(_SAID) | {"address": f"{self.outside}/k/ABC234/"}
        answers: list[dict[str, Any]] = [{"status": 503}, {"json": said}]
        self.page.route(
            "**/on-page/1.json",
            lambda route: (
                asked.append(route.request.url),
                route.fulfill(**(answers[1] if len(asked) > 1 else answers[0])),
            ),
        )
        words = self.run_with(
            "asking",
            """const at = `${location.origin}/k/ABC234/`;
            const failed = await m.saidOf(at, 0).catch((error) => error.message);
            const [one, two] = await Promise.all([m.saidOf(at, 1000), m.saidOf(at, 59_000)]);
            await m.saidOf(at, 62_000); return [failed, one.words, one === two];""",
        )
        self.assertEqual(words, ["cravik: 503", "Pay <b>it</b>", True])
        self.assertEqual(len(asked), 3)

    def test_what_is_said_is_text_and_the_button_a_link(self) -> None:
        said = self.run_with("drawing", f"const a = m.buttonOf({_SAID}); return [a.outerHTML, a.textContent, a.href];")
        self.assertIn("Pay &lt;b&gt;it&lt;/b&gt;", said[0])
        self.assertEqual(said[1:], ["Pay <b>it</b>", "https://pay.example/k/ABC234/"])
        card = self.run_with(
            "drawing",
            """const said = { card: { title: "Kite", price: "€1.00", seller: "S" } };
            return m.cardOf(said, document.createElement("a")).textContent;""",
        )
        self.assertEqual(card, "Kite€1.00S")

    def test_a_face_becomes_a_sheet(self) -> None:
        css = self.run_with(
            "styles", f"return [...m.sheetsFor({_SAID})[1].cssRules].map((rule) => rule.cssText).join(' ');"
        )
        self.assertIn("--ground: #a63a28", css)
        self.assertIn("font-size: 19.2px", css)
        self.assertIn("display: block !important", css)

    def test_the_page_stands_still_and_is_let_go_as_it_was(self) -> None:
        styles = self.run_with(
            "holdStill",
            """const { style } = document.documentElement; style.setProperty("overflow", "clip", "important");
            const letGo = m.holdStill(); const held = style.overflow; letGo();
            return [held, style.overflow, style.getPropertyPriority("overflow")];""",
        )
        self.assertEqual(styles, ["hidden", "clip", "important"])

    def test_a_frame_hears_the_page_that_it_greeted_and_nobody_else(self) -> None:
        self.page.route(
            "**/framed",
            lambda route: route.fulfill(
                content_type="text/html",
                body="""<script>addEventListener("message", ({ data, ports: [port] }) => {
                parent.postMessage({ paid: "FAKE" }, "*");
                const says = [{ height: 120 }, { paid: "R1" }, { paid: "R1" }, { height: -5 }, null, { leaves: true }];
                if (data.grows) for (const said of says) port.postMessage(said);
                });</script>""",
            ),
        )
        heard = self.run_with(
            "frame",
            """const heard = []; const note = (what) => (value) => heard.push([what, value ?? null]);
            await new Promise((done) => {
              const told = { height: note("height"), paid: note("paid"), silent: note("silent"), leaves: done };
              told.grows = true;
              document.body.append(new m.PageFrame(`${location.origin}/framed`, "Page", told).element);
            });
            return heard;""",
        )
        self.assertEqual(heard, [["height", 120], ["paid", "R1"]])

    def test_the_element_is_made_known_once(self) -> None:
        self.run_with("index", "return null")
        first = self.page.evaluate("customElements.get('cravik-spot').name")
        self.page.add_script_tag(content=SCRIPT.read_text())
        self.assertEqual(self.page.evaluate("customElements.get('cravik-spot').name"), first)

    def test_a_page_over_the_page_that_stays_silent_leads_on(self) -> None:
        self.page.route("**/silent", lambda route: route.fulfill(content_type="text/html", body="<p>Nothing of ours"))
        self.run_with(
            "overPage",
            """window.told = []; const tell = (what) => () => told.push(what);
            const said = { words: "Pay", frame: `${location.origin}/silent`, address: `${location.origin}/` };
            const tells = { opened: tell("opened"), paid: tell("paid"), closed: tell("closed") };
            window.over = new m.OverPage(document.body, said, tells);
            over.open();""",
        )
        self.page.get_by_role("link", name="Open it in a window of its own").wait_for()
        self.page.evaluate("(over.end(), over.end())")
        self.assertEqual(self.page.evaluate("told"), ["opened", "closed"])
