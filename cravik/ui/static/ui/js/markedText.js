// Buttons that write the marks of Markdown around what is selected in a text, so that nobody has to know them.
document.addEventListener("alpine:init", () => {
  Alpine.data("markedText", () => ({
    init() {
      const text = this.$root.querySelector("textarea");
      for (const button of this.$root.querySelectorAll("[data-mark]")) {
        button.addEventListener("click", () => { text.focus(); this[button.dataset.mark](text); });
      }
    },

    strong(text) { this.around(text, "**"); },
    emphasis(text) { this.around(text, "*"); },

    // Pressed again, the marks are taken away.
    around(text, mark) {
      const { selectionStart: start, selectionEnd: end, value } = text;
      const selected = value.slice(start, end).trim() || "words";
      const from = start + (value.slice(start, end).match(/^\s*/)[0].length % (end - start + 1));
      const isMarked = value.slice(from - mark.length, from) === mark && value.startsWith(mark, from + selected.length);
      if (isMarked) this.write(text, from - mark.length, from + selected.length + mark.length, selected, 0);
      else this.write(text, from, from + (end > start ? selected.length : 0), `${mark}${selected}${mark}`, mark.length);
    },

    // Each line that is selected becomes one of a list; if all are, none is any more.
    list(text) {
      const start = text.value.lastIndexOf("\n", text.selectionStart - 1) + 1;
      const after = text.value.indexOf("\n", text.selectionEnd);
      const end = after < 0 ? text.value.length : after;
      const lines = text.value.slice(start, end).split("\n");
      const isList = lines.every((line) => line.startsWith("- "));
      const written = lines.map((line) => (isList ? line.slice(2) : `- ${line}`)).join("\n");
      const gap = !isList && start && text.value.slice(start - 2, start) !== "\n\n" ? "\n" : ""; // a list stands apart
      this.write(text, start, end, `${gap}${written}`, 0);
      text.setSelectionRange(text.selectionEnd, text.selectionEnd);
    },

    link(text) {
      const { selectionStart: start, selectionEnd: end } = text;
      const selected = text.value.slice(start, end).trim();
      const isAddress = /^(https?:\/\/|mailto:)\S+$/.test(selected);
      this.write(text, start, end, isAddress ? `[words](${selected})` : `[${selected || "words"}](https://)`, 0);
      const at = isAddress ? start + 1 : text.value.indexOf("(https://", start) + 9;
      text.setSelectionRange(at, isAddress ? at + 5 : at);
    },

    // As if it were typed, so that Ctrl+Z takes it back; what is between the marks stays selected.
    write(text, start, end, written, marks) {
      text.setSelectionRange(start, end);
      if (!document.execCommand("insertText", false, written)) {
        text.setRangeText(written, start, end, "end");
        text.dispatchEvent(new Event("input", { bubbles: true }));
      }
      text.setSelectionRange(start + marks, start + written.length - marks);
    },
  }));
});
