// Shows in a frame what a form would give, by sending the form's values there. The frame is named "sample".
window.showSample = (frame, values) => {
  const asking = document.createElement("form");
  asking.method = "post";
  asking.action = frame.getAttribute("src");
  asking.target = "sample";
  for (const [name, value] of values) {
    const field = document.createElement("textarea"); // which keeps line breaks
    field.name = name; field.value = value;
    asking.append(field);
  }
  asking.hidden = true;
  document.body.append(asking);
  asking.submit();
  asking.remove();
};
