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
  handles: {},
  socket: null,
  key: keptKey(),
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
  if (explorer.socket && explorer.socket.readyState === WebSocket.OPEN) explorer.socket.send(JSON.stringify(message));
  return n;
}

// The key comes with the first address, and stays with this page and those beside it.
function keptKey() {
  const said = location.hash.match(/^#key=([0-9a-f]+)$/);
  if (said) {
    localStorage.setItem("key", said[1]);
    history.replaceState(null, "", location.pathname);
  }
  return localStorage.getItem("key") || "";
}

// A socket that is lost is opened again as long as the explorer is there.
function connect(wait) {
  const socket = new WebSocket("ws://" + location.host + "/talk");
  explorer.socket = socket;
  socket.onopen = () => {
    socket.send(JSON.stringify({ key: explorer.key }));
    wait = 500;
    hello();
  };
  socket.onmessage = (event) => {
    found(true);
    const told = JSON.parse(event.data);
    const handle = explorer.handles[told.kind];
    if (handle) handle(told.what);
  };
  socket.onclose = () => {
    found(false);
    setTimeout(() => connect(Math.min(wait * 1.5, 5000)), wait);
  };
}

function found(there) {
  const lost = byId("lost");
  if (lost.hidden === there) return;
  lost.hidden = there;
  document.body.classList.toggle("lost", !there);
  lost.textContent = there ? "" : "The explorer does not answer: it has ended, or this page was opened without its " +
    "first address. What is shown stays; begin it again in the terminal to go on.";
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
  explorer.handles[kind] = handle;
}

function start() {
  heard("begun", (told) => {
    byId("orders").textContent = told.name;
    byId("open-check").hidden = false;
    explorer.folder = told.folder;
    explorer.offer = Boolean(told.first);
  });
  heard("drawn", drawn);
  heard("figure", (told) => {
    if (told.n !== explorer.drawn) return;
    const image = byId("figure").querySelector("img");
    image.hidden = Boolean(told.wrong);
    image.src = told.wrong ? "data:," : told.src;
    image.alt = told.alt || "";
    byId("figure").querySelector(".why").innerHTML = told.wrong || "";
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
  connect(500);
}

function hello() {
  explorer.opening = true;
  say("hello", { address: location.hash.slice(1) });
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
  byId("open-check").hidden = false;
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
  makeRoom(sheet);
  const figure = byId("figure");
  figure.hidden = !told.figure;
  if (told.figure) {
    figure.classList.add("waiting");
    drawFigure(told.n);
  }
  drawTake(told);
  keepAddress(told.address);
  refocus(part);
  redrawPanel();
  if (explorer.offer) {
    explorer.offer = false;
    say("offer");
  }
  if (explorer.sent) {
    const sent = explorer.sent;
    explorer.sent = 0;
    requestAnimationFrame(() => setTimeout(() => explorer.times.push(performance.now() - sent), 0));
  }
}

// A table that is wider than its half of the page takes all of it, and the figure goes below.
function makeRoom(sheet) {
  const seen = document.querySelector(".seen");
  seen.classList.remove("under");
  const wide = sheet.querySelector(".wide");
  if (wide && wide.scrollWidth > wide.clientWidth + 4) seen.classList.add("under");
}

// What is shown can be taken along, each by one act.
function drawTake(told) {
  const take = byId("take");
  take.hidden = Boolean(told.error);
  const file = (format, text) => made("a", {
    href: "/shown/" + encodeURIComponent(explorer.window) + "/" + format, textContent: text, download: "",
  });
  const copy = made("button", { type: "button", textContent: "Copy the table" });
  copy.onclick = () => fetch(file("tsv").href).then((answer) => answer.text()).then((text) => copied(text, copy));
  take.replaceChildren(copy, " Save the table: ", file("csv", "CSV"), " ", file("xlsx", "xlsx"));
  if (told.figure) take.append(" · the figure: ", file("png", "PNG"), " ", file("svg", "SVG"));
}

// In the dark it is drawn with the colours for it, and again when the page turns from one to the other.
const darkPage = window.matchMedia("(prefers-color-scheme: dark)");
darkPage.addEventListener("change", () => drawFigure(explorer.drawn));

// The figure is drawn once nothing more is asked for a moment: another ask need not wait for it.
function drawFigure(n) {
  clearTimeout(explorer.drawing);
  explorer.drawing = setTimeout(() => {
    const width = Math.max(320, Math.round(byId("figure").parentElement.clientWidth));
    sayAs(n, "figure", { width, height: Math.round(Math.min(width * 0.68, 560)), dark: darkPage.matches });
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
