// What is said to R and what comes back. Every message has a number; a newer act outdates an older one.
"use strict";

const explorer = {
  n: 0,
  window: keptWindow(),
  address: "",
  opening: false,
  focus: null,
  sent: 0,
  times: [],
};

// A reload finds its state again; a new window begins one of its own.
function keptWindow() {
  const entry = performance.getEntriesByType("navigation")[0];
  const kept = sessionStorage.getItem("window");
  const again = entry && entry.type === "reload" && kept;
  const id = again ? kept : crypto.getRandomValues(new Uint32Array(4)).join("-");
  sessionStorage.setItem("window", id);
  return id;
}

function say(what, more) {
  explorer.n += 1;
  return sayAs(explorer.n, what, more);
}

function sayAs(n, what, more) {
  const message = Object.assign({ window: explorer.window, n, do: what }, more);
  Shiny.setInputValue("said:drystack.said", JSON.stringify(message), { priority: "event" });
  return n;
}

function act(what) {
  explorer.sent = performance.now();
  explorer.opening = false;
  document.getElementById("sheet").classList.add("waiting");
  say("act", { act: what });
}

function byId(id) {
  return document.getElementById(id);
}

function made(tag, properties, children) {
  const element = Object.assign(document.createElement(tag), properties || {});
  for (const child of children || []) element.append(child);
  return element;
}

function heard(kind, handle) {
  Shiny.addCustomMessageHandler(kind, handle);
}

function start() {
  heard("begun", (told) => {
    byId("orders").textContent = told.name;
    byId("open-check").hidden = false;
    explorer.folder = told.folder;
    explorer.first = Boolean(told.first);
    if (told.first) say("check");
  });
  heard("drawn", drawn);
  heard("figure", (told) => {
    if (told.n !== explorer.drawn) return;
    const image = byId("figure").querySelector("img");
    image.src = told.src;
    image.alt = told.alt;
    byId("figure").classList.remove("waiting");
  });
  heard("refused", (told) => {
    ready();
    byId("refused").innerHTML = told.html;
    byId("refused").hidden = false;
  });
  heard("progress", (told) => {
    byId("working").hidden = false;
    byId("working").querySelector("progress").value = told.part;
  });
  heard("stopped", (told) => ready());
  byId("stop").onclick = () => say("stop");
  byId("undo").onclick = () => act({ do: "undo" });
  byId("redo").onclick = () => act({ do: "redo" });
  document.addEventListener("keydown", (event) => {
    const typing = event.target.matches("input, textarea, select");
    if (!(event.ctrlKey || event.metaKey) || typing) return;
    if (event.key.toLowerCase() === "z") {
      event.preventDefault();
      act({ do: event.shiftKey ? "redo" : "undo" });
    }
  });
  window.addEventListener("popstate", () => {
    explorer.opening = true;
    say("act", { act: { do: "open", address: location.hash.slice(1) } });
  });
  $(document).on("shiny:sessioninitialized shiny:connected", hello);
  if (Shiny.shinyapp && Shiny.shinyapp.isConnected()) hello();
}

let greeted = null;
function hello(event) {
  const socket = Shiny.shinyapp && Shiny.shinyapp.$socket;
  if (!socket || greeted === socket) return;
  greeted = socket;
  setTimeout(() => {
    explorer.opening = true;
    say("hello", { address: location.hash.slice(1) });
  }, 0);
}

function ready() {
  byId("working").hidden = true;
  byId("sheet").classList.remove("waiting");
}

function drawn(told) {
  ready();
  explorer.drawn = told.n;
  const sentence = byId("sentence");
  const focused = document.activeElement;
  const part = focused && focused.matches && focused.matches(".part") ? focused.dataset : explorer.focus;
  sentence.innerHTML = told.sentence;
  document.title = told.title;
  byId("refused").hidden = true;
  byId("undo").disabled = !told.undo;
  byId("redo").disabled = !told.redo;
  byId("blocks").textContent = told.page.blocks.length;
  explorer.page = told.page;
  explorer.report = told.report;
  explorer.reports = told.reports;
  byId("orders").textContent = told.name;
  const sheet = byId("sheet");
  if (told.error) {
    sheet.innerHTML = '<div role="alert" class="error">' + told.error + "</div>";
  } else {
    sheet.innerHTML = told.table;
    readyTable();
  }
  const figure = byId("figure");
  figure.hidden = !told.figure;
  if (told.figure) {
    figure.classList.add("waiting");
    drawFigure(told.n);
  }
  keepAddress(told.address);
  refocus(part);
  redrawPanel();
  if (explorer.sent) {
    const sent = explorer.sent;
    explorer.sent = 0;
    requestAnimationFrame(() => setTimeout(() => explorer.times.push(performance.now() - sent), 0));
  }
}

// The figure is drawn once nothing more is asked for a moment: another ask need not wait for it.
function drawFigure(n) {
  clearTimeout(explorer.drawing);
  explorer.drawing = setTimeout(() => {
    const width = Math.max(320, Math.round(byId("figure").parentElement.clientWidth));
    sayAs(n, "figure", { width, height: Math.round(width * 0.68) });
  }, 90);
}

function keepAddress(address) {
  const hash = "#" + address;
  if (location.hash !== hash) {
    if (explorer.opening || location.hash === "") history.replaceState(null, "", hash);
    else history.pushState(null, "", hash);
  }
  explorer.opening = false;
}

// The part that was changed has the focus again.
function refocus(part) {
  explorer.focus = null;
  if (!part || !part.menu) return;
  const same = document.querySelector(`.part[data-menu="${part.menu}"][data-at="${part.at}"]`) ||
    document.querySelector(`.part[data-menu="${part.menu}"]`);
  if (same) same.focus();
}

document.addEventListener("DOMContentLoaded", start);
