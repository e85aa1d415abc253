// A page in a frame on a page of others tells that page's script how high it is, what was paid, and that Esc was pressed.
// It speaks through the port that the page around it hands over, so nobody else can listen or answer.
(() => {
  if (window.parent === window) return;
  const root = document.documentElement;
  let port = null, told = 0;

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
  });
  // A browser puts focus nowhere by itself in a frame of another site.
  if (!document.querySelector("[data-notices]")) document.querySelector('[aria-invalid="true"]')?.focus();
  new ResizeObserver(tellHeight).observe(document.body);
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && !event.defaultPrevented) tell({ leaves: true }); });
})();
