// What a spot's button says: asked once for each address, however many elements show it, and kept for as long as the answer.
const VERSION = 1;
const KEPT = 60_000;
const asked = new Map();
// Taken before a page can put something else in their places.
const ask = globalThis.fetch.bind(globalThis);

// The whole address of a spot, as it stands in `at`; null for what is none.
export function addressOf(at) {
  try {
    const address = new URL(at, document.baseURI);
    if (address.protocol !== "https:" && address.protocol !== "http:") return null;
    address.search = address.hash = "";
    if (address.pathname[address.pathname.length - 1] !== "/") address.pathname += "/";
    return address.href;
  } catch {
    return null;
  }
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
  if (said.version !== VERSION || typeof said.words !== "string" || typeof said.address !== "string") throw new Error("cravik: another version");
  return said;
}
