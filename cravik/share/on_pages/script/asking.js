// What a spot's button says: asked once for each address, however many elements show it, and kept for as long as the answer.
import { isWellSaid } from "./wellSaid.js";

const VERSION = 1;
const KEPT = 60_000;
const OWN_MACHINE = /^(localhost|[\w.-]+\.localhost|127\.0\.0\.1|\[::1\])$/;
const asked = new Map();
// Taken before a page can put something else in their places.
const ask = globalThis.fetch.bind(globalThis);

// Who serves this script: the page trusts them with all of itself, and nobody else is asked or believed.
const trusted = new Set();

// From now on, the origin of the script at that address too.
export function trust(script) {
  const { origin, protocol } = new URL(script, document.baseURI);
  if (protocol === "https:" || protocol === "http:") trusted.add(origin);
}

// The whole address of a spot, as it stands in `at`; null for what is none, and for one of anybody else.
export function addressOf(at) {
  try {
    const address = new URL(at, document.baseURI);
    if (!isTrusted(address)) return null;
    address.search = address.hash = "";
    if (address.pathname[address.pathname.length - 1] !== "/") address.pathname += "/";
    return address.href;
  } catch {
    return null;
  }
}

// https, or http on one's own machine, of who serves the script.
function isTrusted(address) {
  const isSafe = address.protocol === "https:" || (address.protocol === "http:" && OWN_MACHINE.test(address.hostname));
  return isSafe && trusted.has(address.origin);
}

// What is said of the spot at that address. Rejects where nobody answers, or not in this version's way.
export function saidOf(address, now = Date.now()) {
  const before = asked.get(address);
  if (before && now - before.at < KEPT) return before.said;
  const said = answered(address);
  asked.set(address, { said, at: now });
  said.catch(() => asked.delete(address));
  return said;
}

async function answered(address) {
  const answer = await ask(new URL("on-page/1.json", address).href, { credentials: "same-origin", mode: "cors" });
  if (!answer.ok) throw new Error(`cravik: ${answer.status}`);
  const said = await answer.json();
  if (said.version !== VERSION) throw new Error("cravik: another version");
  if (!isWellSaid(said, new URL(address).origin)) throw new Error("cravik: not what is said of a spot");
  return said;
}
