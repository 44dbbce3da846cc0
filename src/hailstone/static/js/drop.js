// A file dropped anywhere on the page goes into the form that takes it, as if it had been chosen there.
"use strict";

(() => {
  const forms = () => [...document.querySelectorAll("form[data-drop]")];
  const hasFile = (event) => [...(event.dataTransfer?.types ?? [])].includes("Files");
  const isPicture = (file) => file.type.startsWith("image/");

  document.addEventListener("dragover", (event) => {
    if (!hasFile(event) || !forms().length) return;
    event.preventDefault();
    document.body.classList.add("dropping");
  });
  document.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) document.body.classList.remove("dropping");
  });
  document.addEventListener("drop", (event) => {
    document.body.classList.remove("dropping");
    if (!hasFile(event)) return;
    event.preventDefault();
    const files = [...event.dataTransfer.files];
    const wanted = isPicture(files[0]) ? "image" : "csv";
    const form = forms().find((each) => each.querySelector("input[type=file]").accept.includes(wanted));
    if (files.length !== 1 || !form) {
      const takes = forms().map((each) => each.dataset.drop).join(" or ");
      document.dispatchEvent(new CustomEvent("hailstone:say", { detail: `Drop one file here: ${takes}.` }));
      return;
    }
    form.querySelector("input[type=file]").files = event.dataTransfer.files;
    form.requestSubmit();
  });
})();
