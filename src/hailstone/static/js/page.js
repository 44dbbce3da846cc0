// What every page shares: `?` shows the keys, 1 to 6 go to the layers, a letter presses the button that carries it,
// Print prints, and what is typed into a form and not sent yet survives a reload.
"use strict";

(() => {
  const typing = (target) => target.matches("input:not([type=checkbox], [type=radio]), textarea, select, [contenteditable]");

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || typing(event.target) || document.querySelector("dialog[open]")) return;
    const pressed = document.querySelector(`[data-press="${CSS.escape(event.key.toLowerCase())}"]`);
    if (pressed) {
      event.preventDefault();
      pressed.click();
      return;
    }
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

  // on a phone the layers scroll sideways: bring the current one into sight
  window.addEventListener("load", () => {
    const current = document.querySelector(".layer[aria-current]");
    const list = current?.closest("ol");
    if (list && list.scrollWidth > list.clientWidth) list.scrollLeft = current.offsetLeft - list.offsetLeft - 40;
  });

  // drafts of forms that carry data-draft
  const drafts = (form) => `form ${location.pathname} ${form.dataset.draft}`;
  const drafted = (field) => field.name && !["hidden", "file", "password", "radio", "submit"].includes(field.type) && field.tagName !== "BUTTON";
  // of several boxes with one name each is kept by its value
  const keyOf = (field) => (field.type === "checkbox" && field.form.elements[field.name].length ? `${field.name}=${field.value}` : field.name);
  document.addEventListener("input", (event) => {
    const form = event.target.form;
    if (!form?.matches("[data-draft]") || !drafted(event.target)) return;
    const kept = JSON.parse(sessionStorage.getItem(drafts(form)) ?? "{}");
    kept[keyOf(event.target)] = event.target.type === "checkbox" ? event.target.checked : event.target.value;
    sessionStorage.setItem(drafts(form), JSON.stringify(kept));
  });
  document.addEventListener("submit", (event) => {
    if (event.target.matches("[data-draft]")) sessionStorage.removeItem(drafts(event.target));
  });
  // a page that is being left forgets nothing: what comes next may have been drawn before this was saved
  let leaving = 0;
  window.addEventListener("beforeunload", () => {
    leaving = Date.now();
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const form = event.detail.elt.closest?.("[data-draft]");
    if (Date.now() - leaving < 5000) return;
    if (!form || !event.detail.xhr.status || event.detail.xhr.status >= 400) return;
    // what was changed after the request had left is still a draft
    const sent = event.detail.requestConfig.formData;
    const kept = Object.entries(JSON.parse(sessionStorage.getItem(drafts(form)) ?? "{}"));
    const later = kept.filter(([name, value]) => (typeof value === "boolean" ? sent.has(name) : sent.get(name)) !== value);
    if (later.length) sessionStorage.setItem(drafts(form), JSON.stringify(Object.fromEntries(later)));
    else sessionStorage.removeItem(drafts(form));
  });
  window.addEventListener("load", () => {
    for (const form of document.querySelectorAll("[data-draft]")) {
      for (const [name, value] of Object.entries(JSON.parse(sessionStorage.getItem(drafts(form)) ?? "{}"))) {
        const [group, chosen] = name.split("=");
        const field = chosen ? [...(form.elements[group] ?? [])].find((box) => box.value === chosen) : form.elements[name];
        if (!field?.tagName) continue;
        if (field.type === "checkbox") field.checked = value;
        else field.value = value;
        field.dispatchEvent(new Event("change", { bubbles: true }));
      }
    }
  });

  // a change the server refused to answer is said, not swallowed
  document.addEventListener("hailstone:say", (event) => say(event.detail));
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

// The order in which wires are picked by hand counts: the first one drives the coil, the second one goes through it.
document.addEventListener("change", (event) => {
  if (event.target.name !== "hand_source") return;
  const order = document.querySelector("[data-hand-order]");
  const kept = order.value.split(",").filter((id) => id && id !== event.target.value);
  order.value = [...kept, ...(event.target.checked ? [event.target.value] : [])].join(",");
}, true);

// Connecting by hand is judged when it is asked for, not while it is being picked.
document.addEventListener("change", (event) => {
  if (event.target.closest?.("[data-hand]")) event.stopPropagation();
}, true);

// On a narrow screen the circuit is seen from what is fitted to lamp and ground first; the supply is a drag away.
const showTap = () => document.querySelectorAll(".circuit-scroll:not([data-shown])").forEach((box) => {
  box.dataset.shown = "";
  if (box.querySelector(".circuit")) box.scrollLeft = box.scrollWidth;
});
document.addEventListener("DOMContentLoaded", showTap);
document.addEventListener("htmx:afterSettle", showTap);

// The step to do now is in sight in the list of all steps, with the two before it.
const showStep = () => {
  const list = document.querySelector(".step-list"), now = list?.querySelector(".step-now");
  if (now) list.scrollTop = now.offsetTop - list.offsetTop - 2 * now.offsetHeight;
};
document.addEventListener("DOMContentLoaded", showStep);
document.addEventListener("htmx:afterSettle", showStep);

// What was typed into a search before the scripts had come is searched for once they are here.
window.addEventListener("load", () => {
  for (const box of document.querySelectorAll("input[type=search]")) {
    if (box.value !== box.defaultValue) htmx.trigger(box, "typed");
  }
});

// A kind of one's own is nothing without its leads: choosing it opens where they are written.
document.addEventListener("change", (event) => {
  if (event.target.name === "addition" && event.target.value === "own") {
    document.querySelector("[name=own_leads]").closest("details").open = true;
  }
});
