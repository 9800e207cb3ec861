// The list under a part of the sentence: searched by typing, walked by arrows, chosen by Enter or click.
"use strict";

// awaited: the list of what is typed is still to come; entered: Enter was pressed meanwhile; moved: by an arrow
const menu = { part: null, asked: null, items: [], here: -1, chosen: null, told: null, timer: 0, awaited: false,
  entered: null, moved: false };

function openMenu(part, asked) {
  menu.part = part;
  menu.chosen = null;
  askMenu(Object.assign({ menu: part.dataset.menu, at: Number(part.dataset.at) }, asked), true);
}

function askMenu(asked, fresh) {
  menu.asked = asked;
  menu.fresh = fresh;
  if (fresh) menu.awaited = menu.moved = false;
  if (fresh) menu.entered = null;
  menu.n = say("menu", asked);
}

function closeMenu(back) {
  byId("menu").hidden = true;
  if (menu.part) menu.part.removeAttribute("aria-expanded");
  if (back && menu.part && menu.part.isConnected) menu.part.focus();
  menu.part = null;
}

function choose(what) {
  explorer.focus = menu.part && menu.part.dataset ? { menu: menu.part.dataset.menu, at: menu.part.dataset.at } : null;
  closeMenu(false);
  act(what);
}

function drawMenu(told) {
  if (told.n !== menu.n || !menu.part) return;
  menu.told = told;
  const box = byId("menu");
  if (menu.fresh) {
    box.replaceChildren(
      made("h2", { id: "menu-title", textContent: told.title }),
      made("input", { type: "text", id: "menu-search", autocomplete: "off", spellcheck: false }),
      made("p", { id: "menu-wrong", className: "wrong" }),
      made("div", { id: "menu-completions" }),
      made("div", { id: "menu-list", tabIndex: -1 }),
      made("div", { id: "menu-foot" })
    );
    box.setAttribute("aria-labelledby", "menu-title");
    const search = byId("menu-search");
    search.placeholder = told.typed ? "search, " + told.typed.says : "search";
    search.setAttribute("role", "combobox");
    search.setAttribute("aria-expanded", "true");
    search.setAttribute("aria-controls", "menu-list");
    search.setAttribute("aria-label", search.placeholder);
    search.oninput = typed;
    search.onkeydown = menuKey;
    byId("menu-list").setAttribute("role", "listbox");
    byId("menu-list").setAttribute("aria-label", told.title);
    if (told.multi) {
      byId("menu-list").setAttribute("aria-multiselectable", "true");
      menu.chosen = new Map((told.multi.members || []).map((text) => [text, true]));
      if (told.groups.some((g) => g.items.some((i) => i.value === "NA" && i.on))) menu.chosen.set("NA", true);
    }
    menu.fresh = false;
  }
  fillMenu(told);
  box.hidden = false;
  if (menu.awaited && byId("menu-search").value === (menu.asked.search || "")) {
    menu.awaited = false;
    if (menu.entered) return entered(menu.entered);
  }
  placeMenu();
  menu.part.setAttribute("aria-expanded", "true");
  byId("menu-search").focus();
}

function fillMenu(told) {
  const list = byId("menu-list");
  list.replaceChildren();
  menu.items = [];
  for (const group of told.groups) {
    const box = made("div", {});
    box.setAttribute("role", "group");
    if (group.title) {
      box.setAttribute("aria-label", group.title);
      box.append(made("div", { className: "group", textContent: group.title, ariaHidden: "true" }));
    }
    for (const item of group.items) box.append(menuItem(item));
    list.append(box);
  }
  byId("menu-foot").replaceChildren();
  if (told.more > 0) {
    byId("menu-foot").append(made("p", { textContent: told.more.toLocaleString("en") + " more: type to find them" }));
  }
  if (told.multi) byId("menu-foot").append(...multiFoot(told));
  moveTo(menu.items.findIndex((one) => one.item.on));
}

function menuItem(item) {
  const row = made("div", { className: "item" }, [
    made("span", { className: "label", textContent: item.label }),
    made("span", { className: "note", textContent: item.note || "" }),
  ]);
  row.setAttribute("role", "option");
  row.id = "menu-item-" + menu.items.length;
  const place = menu.items.length;
  menu.items.push({ row, item });
  marked(row, item);
  row.onmousedown = (event) => event.preventDefault();
  row.onclick = () => pick(place);
  row.onmousemove = () => moveTo(place, true);
  return row;
}

function marked(row, item) {
  const on = menu.chosen && item.value ? menu.chosen.has(item.value) : item.on;
  row.setAttribute("aria-selected", on ? "true" : "false");
  row.classList.toggle("on", Boolean(on));
}

function moveTo(place, quiet) {
  const before = menu.items[menu.here];
  if (before) before.row.classList.remove("here");
  menu.here = place;
  const now = menu.items[place];
  const search = byId("menu-search");
  if (!now) return search.removeAttribute("aria-activedescendant");
  now.row.classList.add("here");
  search.setAttribute("aria-activedescendant", now.row.id);
  if (!quiet) now.row.scrollIntoView({ block: "nearest" });
}

function pick(place) {
  const item = menu.items[place].item;
  if (menu.chosen && item.value) {
    if (menu.chosen.has(item.value)) menu.chosen.delete(item.value);
    else menu.chosen.set(item.value, true);
    marked(menu.items[place].row, item);
    countChosen();
  } else if (item.menu) {
    menu.chosen = null;
    askMenu(Object.assign({}, item.menu), true);
  } else if (item.typed) {
    askText(item);
  } else if (item.act) {
    choose(item.act);
  }
}

function multiFoot(told) {
  const apply = (except) => () => {
    const members = [...menu.chosen.keys()];
    choose({ do: "limit", column: told.multi.column, members: members.filter((m) => m !== "NA"),
      none: members.includes("NA"), except });
  };
  const only = made("button", { type: "button", id: "menu-only", textContent: "Only these", onclick: apply(false) });
  const except = made("button", { type: "button", id: "menu-except", textContent: "All but these", onclick: apply(true) });
  setTimeout(countChosen, 0);
  return [only, except, made("span", { id: "menu-count" })];
}

function countChosen() {
  const n = menu.chosen ? menu.chosen.size : 0;
  if (!byId("menu-count")) return;
  byId("menu-count").textContent = n + " chosen";
  byId("menu-only").disabled = byId("menu-except").disabled = n === 0;
}

// A text to be typed instead of one to be chosen.
function askText(item) {
  const box = made("form", { className: "ask-text" }, [
    made("label", { textContent: item.typed.says, htmlFor: "menu-text" }),
    made("input", { id: "menu-text", value: item.typed.value || "" }),
    made("button", { textContent: "Take it" }),
  ]);
  box.onsubmit = (event) => {
    event.preventDefault();
    choose(Object.assign({}, item.act, { [item.typed.key]: byId("menu-text").value }));
  };
  box.onkeydown = (event) => {
    if (event.key === "Escape") closeMenu(true);
  };
  byId("menu-list").replaceChildren(box);
  byId("menu-text").focus();
  byId("menu-text").select();
}

function typed() {
  clearTimeout(menu.timer);
  const text = byId("menu-search").value;
  menu.awaited = true;
  menu.moved = false;
  menu.timer = setTimeout(() => {
    askMenu(Object.assign({}, menu.asked, { search: text }), false);
    if (menu.told.typed && menu.told.typed.words) {
      menu.checked = say("complete", { text, words: menu.told.typed.words, at: menu.asked.at });
    }
  }, 60);
}

// Below the search: what is wrong with what is typed, and how it could go on. The error of a word that
// finds items in the list is not told: it is a search.
function drawCompleted(told) {
  if (told.n !== menu.checked || !menu.part) return;
  const search = byId("menu-search");
  byId("menu-wrong").textContent = menu.items.length > 0 && /^[\w ]*$/.test(search.value) ? "" : told.wrong;
  const box = byId("menu-completions");
  box.replaceChildren();
  if (!/[^\w ]/.test(search.value)) return;
  for (const word of told.words) {
    box.append(made("button", {
      type: "button", textContent: word, tabIndex: -1,
      onclick: () => {
        search.value = search.value.slice(0, search.value.length - told.last.length) + word;
        search.focus();
        typed();
      },
    }));
  }
}

function menuKey(event) {
  const n = menu.items.length;
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step) {
    event.preventDefault();
    if (n > 0) moveTo((menu.here + step + n) % n);
    menu.moved = n > 0;
  } else if (event.key === "Escape") {
    event.preventDefault();
    closeMenu(true);
  } else if (event.key === "Tab" && !event.shiftKey && byId("menu-completions").firstChild) {
    event.preventDefault();
    byId("menu-completions").firstChild.click();
  } else if (event.key === "Enter") {
    event.preventDefault();
    entered(event);
  }
}

// Enter takes the item that an arrow moved to, else what the server says of the text that is typed; with Ctrl the
// members that are ticked. It waits for the list of what is typed.
function entered(event) {
  const text = byId("menu-search").value.trim();
  menu.entered = null;
  if (menu.chosen && (event.ctrlKey || event.metaKey)) {
    byId("menu-only").click();
  } else if (menu.moved || text === "") {
    if (menu.here >= 0) pick(menu.here);
  } else if (menu.awaited) {
    menu.entered = event;
  } else if (menu.told.enter === "text") {
    choose(Object.assign({}, menu.told.typed.act, { [menu.told.typed.key]: text }));
  } else if (menu.told.enter >= 0) {
    pick(menu.told.enter);
  }
}

// Under its part, within the window.
function placeMenu() {
  const box = byId("menu");
  const at = menu.part.getBoundingClientRect();
  const width = Math.min(26 * 16, document.documentElement.clientWidth - 16);
  box.style.width = width + "px";
  box.style.left = Math.max(8, Math.min(at.left, document.documentElement.clientWidth - width - 8)) + window.scrollX + "px";
  box.style.top = at.bottom + 4 + window.scrollY + "px";
}

document.addEventListener("click", (event) => {
  const part = event.target.closest(".part");
  if (part) {
    if (menu.part === part) closeMenu(true);
    else openMenu(part);
  } else if (menu.part && !event.target.closest("#menu") && !event.target.closest("[data-opens]")) {
    closeMenu(false);
  }
});
document.addEventListener("DOMContentLoaded", () => {
  heard("menu", drawMenu);
  heard("completed", drawCompleted);
});
