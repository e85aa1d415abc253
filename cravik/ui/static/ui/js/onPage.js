// A page in a frame on a page of others tells that page's script how high it is, what was paid, typed and sent, and that Esc was pressed.
// It speaks through the port that the page around it hands over, so nobody else can listen or answer.
(() => {
  if (window.parent === window) return;
  const root = document.documentElement;
  let port = null, told = 0;
  // A page that came back with what was typed has it to lose as well.
  let isTyped = Boolean(document.querySelector("[data-notices]"));

  function tell(what) { port?.postMessage(what); }

  function tellHeight() {
    const height = Math.ceil(root.getBoundingClientRect().height);
    if (!port || height === told) return;
    told = height;
    tell({ height });
  }

  addEventListener("message", (event) => {
    if (event.source !== window.parent || event.data?.cravik !== 1 || !event.ports[0]) return;
    port = event.ports[0];
    told = 0;
    root.classList.toggle("grows", event.data.grows === true); // as high as what it shows, so nothing in it is fixed
    tellHeight();
    const paid = document.querySelector("[data-paid]");
    if (paid) tell({ paid: paid.dataset.paid });
    if (isTyped) tell({ typed: true });
  });
  // A browser puts focus nowhere by itself in a frame of another site.
  if (!document.querySelector("[data-notices]")) document.querySelector('[aria-invalid="true"]')?.focus();
  new ResizeObserver(tellHeight).observe(document.body);
  // What would be lost, and what must not be: the page around asks before it closes, and does not while it pays.
  document.addEventListener("input", (event) => { if (event.target.name) tell({ typed: isTyped = true }); });
  document.addEventListener("submit", (event) => { if (!event.defaultPrevented) tell({ pays: true }); });
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && !event.defaultPrevented) tell({ leaves: true }); });
})();
