// Copies what stands in the element named by data-copy, and says so.
document.addEventListener("alpine:init", () => {
  Alpine.data("copyText", () => ({
    said: "",

    async copy() {
      const source = document.getElementById(this.$root.dataset.copy);
      const text = source.value || source.textContent;
      try {
        await navigator.clipboard.writeText(text);
        this.said = "Copied.";
      } catch {
        const range = document.createRange();
        range.selectNodeContents(source);
        getSelection().removeAllRanges();
        getSelection().addRange(range);
        this.said = "Selected: press Ctrl+C to copy.";
      }
      setTimeout(() => { this.said = ""; }, 4000);
    },
  }));
});
