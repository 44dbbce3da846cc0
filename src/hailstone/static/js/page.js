// Keys and buttons that every page shares: `?` shows the keys, 1 to 6 go to the layers, Print prints.
"use strict";

(() => {
  const typing = (target) => target.matches("input, textarea, select, [contenteditable]");

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || typing(event.target)) return;
    if (event.key === "?") {
      document.getElementById("keys").showModal();
    } else if (/^[1-6]$/.test(event.key)) {
      document.querySelector(`.layer[data-key="${event.key}"]`)?.click();
    }
  });

  document.addEventListener("click", (event) => {
    if (event.target.closest("[data-print]")) window.print();
    if (event.target.closest("[data-keys]")) document.getElementById("keys").showModal();
  });

  // a change the server refused to answer is said, not swallowed
  document.addEventListener("htmx:sendError", () => say("The server does not answer. What you typed stays here; try again."));
  document.addEventListener("htmx:responseError", (event) => {
    if (event.detail.xhr.status === 403) say("This page is too old to save. Reload it; what you typed stays here.");
    else say(`Not saved (${event.detail.xhr.status}). Reload the page and try again.`);
  });

  function say(text) {
    let box = document.getElementById("trouble");
    if (!box) {
      box = document.createElement("p");
      box.id = "trouble";
      box.className = "note note-error floating";
      box.setAttribute("role", "alert");
      document.body.append(box);
    }
    box.textContent = text;
    clearTimeout(box.timer);
    box.timer = setTimeout(() => box.remove(), 8000);
  }
})();
