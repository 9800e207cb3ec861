// What stands beside the table on demand: how a figure came about, what the ask becomes, the page being
// made, the check of the orders.
"use strict";

const panel = { kind: null };

function openPanel(kind, title, children) {
  panel.kind = kind;
  const box = byId("panel");
  box.replaceChildren(
    made("div", { className: "panel-head" }, [
      made("h2", { textContent: title }),
      made("button", { type: "button", textContent: "Close", onclick: closePanel }),
    ]),
    ...children
  );
  box.setAttribute("aria-label", title);
  box.hidden = false;
}

function closePanel() {
  panel.kind = null;
  byId("panel").hidden = true;
  const cell = explorer.cell;
  document.querySelectorAll(".open-figure").forEach((one) => one.classList.remove("open-figure"));
  if (cell && cell.isConnected) cell.focus();
}

// After another table: an explanation is of the one before, the others are told anew.
function redrawPanel() {
  if (panel.kind === "answer") closePanel();
  if (panel.kind === "becomes") say("becomes");
  if (panel.kind === "page") drawPage();
  if (panel.kind === "check" && explorer.checking) say("check");
}

function drawAnswer(told) {
  const steps = made("ol", { className: "steps" });
  for (const step of told.steps) {
    const line = made("li", {}, [
      made("code", { textContent: step.expression }), " = ", made("strong", { textContent: step.value }),
    ]);
    if (step.words) line.append(made("p", { textContent: step.words }));
    line.style.marginInlineStart = step.depth * 0.9 + "rem";
    steps.append(line);
  }
  const buttons = [made("button", { type: "button", textContent: "Order lines", onclick: () => say("lines", { page: 1 }) })];
  if (told.by) {
    const by = made("button", { type: "button", textContent: "Show by ...", ariaHasPopup: "dialog" });
    by.dataset.opens = "menu";
    by.dataset.menu = "show_by";
    by.dataset.at = "0";
    by.onclick = () => openMenu(by, { act: told.by });
    buttons.push(by);
  }
  openPanel("answer", told.title + " = " + told.value, [
    made("div", { className: "buttons" }, buttons), steps,
    ...(told.note ? [made("p", { textContent: told.note })] : []),
    made("div", { id: "lines" }),
  ]);
  byId("panel").focus({ preventScroll: true });
}

function drawLines(told) {
  const box = byId("lines");
  if (!box) return;
  const turn = (page, text) => made("button", {
    type: "button", textContent: text, disabled: page < 1 || page > told.pages, onclick: () => say("lines", { page }),
  });
  box.innerHTML = told.html;
  box.prepend(made("p", { className: "buttons" }, [
    told.lines + ", page " + told.page + " of " + told.pages + " ", turn(told.page - 1, "Before"), turn(told.page + 1, "Next"),
    made("a", { href: "/lines/" + encodeURIComponent(explorer.window), textContent: "all as CSV", download: "order-lines.csv" }),
  ]));
}

function copied(text, button) {
  navigator.clipboard.writeText(text).then(() => { button.textContent = "Copied"; });
}

function drawBecomes(told) {
  const block = (title, text) => {
    const copy = made("button", { type: "button", textContent: "Copy" });
    copy.onclick = () => copied(text, copy);
    return made("section", {}, [
      made("div", { className: "panel-head" }, [made("h3", { textContent: title }), copy]),
      made("pre", { tabIndex: 0, textContent: text }),
    ]);
  };
  openPanel("becomes", "The same elsewhere", [
    block("In R", told.r), block("As a command", told.command), block("As a standing report", told.report),
    saveForm("Save as a standing report", "report.yml", "save", told.parameters),
  ]);
}

function saveForm(title, file, what, parameters) {
  const boxes = (parameters || []).map((one) => {
    const box = made("input", { type: "checkbox", value: one.name, id: "ask-" + one.name, checked: Boolean(one.asked) });
    return made("label", { className: "check", htmlFor: box.id }, [box, " ask for " + one.says]);
  });
  const name = made("input", { value: file, id: "file-" + what, size: 18 });
  const form = made("form", { className: "save" }, [
    made("h3", { textContent: title }), ...boxes,
    made("label", { htmlFor: name.id, textContent: "File in " + explorer.folder + " " }), name, " ",
    made("button", { textContent: what === "save" ? "Save" : "Write" }),
    made("p", { className: "written", role: "status" }),
  ]);
  const send = (more) => {
    const asked = [...form.querySelectorAll("input:checked")].map((box) => box.value);
    form.querySelector(".written").replaceChildren();
    say(what, { file: name.value, parameters: asked, ...more });
    panel.form = form;
  };
  form.onsubmit = (event) => {
    event.preventDefault();
    send({});
  };
  form.send = send;
  form.named = name;
  return form;
}

// A file that stands there already is replaced when that is said, or another name is taken.
function askToReplace(told) {
  const form = panel.form;
  if (!form) return;
  const button = (text, todo) => made("button", { type: "button", textContent: text, onclick: todo });
  const other = told.free ? [" ", button("Save as " + told.free, () => { form.named.value = told.free; form.send({}); })] : [];
  form.querySelector(".written").replaceChildren(told.file + " is there already. ",
    button("Replace it", () => form.send({ replace: true })), ...other);
  form.querySelector(".written button").focus();
}

function drawPage() {
  const page = explorer.page;
  const blocks = page.blocks.map((block, i) => pageBlock(block, i + 1, page.blocks.length));
  const title = made("input", { value: page.title, id: "page-title", placeholder: "Report" });
  title.onchange = () => act({ do: "title_page", title: title.value });
  openPanel("page", "The page being made", [
    made("p", {}, [
      made("button", { type: "button", textContent: "Add the table", onclick: () => act({ do: "add_block", as: "table" }) }), " ",
      made("button", { type: "button", textContent: "Add the figure", onclick: () => act({ do: "add_block", as: "figure" }) }), " ",
      made("button", { type: "button", textContent: "Add a text", onclick: () => act({ do: "add_block", as: "text", text: "" }) }),
    ]),
    made("p", {}, [made("label", { htmlFor: "page-title", textContent: "Title " }), title]),
    made("p", { className: "look" }, Object.keys(page.choices).map((key) => pageChoice(key, page))),
    made("ol", { className: "blocks" }, blocks),
    ...(blocks.length > 0 ? [
      saveForm("Write it (.html .pdf .xlsx .md)", "page.html", "write"),
      saveForm("Save it as a standing report", explorer.report || "page.yml", "save", page.parameters),
    ] : []),
    ...(explorer.reports.length > 0 ? [openForm()] : []),
  ]);
}

// The reports of the folder: one that is opened is the page, and its orders are asked.
function openForm() {
  const select = made("select", { id: "open-report" });
  for (const name of explorer.reports) {
    select.append(made("option", { value: name, textContent: name, selected: name === explorer.report }));
  }
  const form = made("form", { className: "save" }, [
    made("h3", { textContent: "Open a standing report" }),
    made("label", { htmlFor: select.id, textContent: "File in " + explorer.folder + " " }), select, " ",
    made("button", { textContent: "Open" }),
  ]);
  form.onsubmit = (event) => {
    event.preventDefault();
    act({ do: "open_report", report: select.value });
  };
  return form;
}

function pageChoice(key, page) {
  const select = made("select", { id: "page-" + key });
  for (const value of page.choices[key]) {
    select.append(made("option", { value, textContent: value, selected: value === page.look[key] }));
  }
  select.onchange = () => act({ do: "set_page", key, value: select.value });
  return made("label", { htmlFor: select.id }, [key.charAt(0).toUpperCase() + key.slice(1) + " ", select]);
}

function pageBlock(block, at, n) {
  const button = (text, what, off) => made("button", {
    type: "button", textContent: text, disabled: Boolean(off), onclick: () => act(what),
  });
  const asked = block.as !== "text";
  const name = asked ? made("input", { value: block.label, placeholder: block.words, ariaLabel: "Label of block " + at })
    : made("textarea", { value: block.text, rows: 2, ariaLabel: "Text of block " + at });
  name.onchange = () => act(asked ? { do: "set_block", at, label: name.value } : { do: "set_block", at, text: name.value });
  const beside = made("input", { type: "checkbox", id: "beside-" + at, checked: block.beside, disabled: at === 1 });
  beside.onchange = () => act({ do: "set_block", at, beside: beside.checked });
  const done = [
    made("label", { className: "check", htmlFor: beside.id }, [beside, " beside the one above"]),
    button("Up", { do: "move_block", at, to: at - 1 }, at === 1),
    button("Down", { do: "move_block", at, to: at + 1 }, at === n),
    ...(asked ? [
      button(block.as === "table" ? "As a figure" : "As a table",
        { do: "set_block", at, as: block.as === "table" ? "figure" : "table" }),
      ...(block.as === "table" ? [button("As what changed", { do: "set_block", at, as: "changes" })] : []),
      button("Show", { do: "show_block", at }), button("Put what is shown here", { do: "replace_block", at }),
    ] : []),
    button("Remove", { do: "drop_block", at }),
  ];
  const what = !asked ? "a text" : block.as === "changes" ? "what changed" : "a " + block.as;
  const line = made("li", { className: "block", title: asked ? block.words : "" }, [
    made("span", { className: "hold", ariaHidden: "true", textContent: "\u2261" }), name,
    made("span", { className: "what", textContent: what }),
    made("details", { className: "do" }, [
      made("summary", { ariaLabel: "What can be done with block " + at, textContent: "\u2026" }),
      made("span", { className: "buttons" }, done),
    ]),
  ]);
  return moved(line, at, n);
}

// A block is moved by Alt with the arrows, or dragged by its handle onto the place of another.
function moved(line, at, n) {
  line.onkeydown = (event) => {
    const to = event.key === "ArrowUp" ? at - 1 : event.key === "ArrowDown" ? at + 1 : 0;
    if (!event.altKey || to < 1 || to > n) return;
    event.preventDefault();
    act({ do: "move_block", at, to });
  };
  line.querySelector(".hold").onpointerdown = () => { line.draggable = true; };
  line.ondragstart = (event) => event.dataTransfer.setData("text/plain", String(at));
  line.ondragend = () => { line.draggable = false; };
  line.ondragover = (event) => event.preventDefault();
  line.ondrop = (event) => {
    event.preventDefault();
    const from = Number(event.dataTransfer.getData("text/plain"));
    if (from >= 1 && from <= n && from !== at) act({ do: "move_block", at: from, to: at });
  };
  return line;
}

// How the orders are read: what can be chosen or typed.
function readingForm(choices) {
  const fields = choices.map((choice) => {
    const id = "read-" + choice.key;
    if (!choice.values) {
      const typed = made("input", { id, name: choice.key, value: choice.value, placeholder: choice.hint });
      return made("label", { htmlFor: id }, [choice.says + " ", typed]);
    }
    const select = made("select", { id, name: choice.key });
    for (const one of choice.values) {
      select.append(made("option", { value: one.value, textContent: one.words, selected: one.value === choice.value }));
    }
    return made("label", { htmlFor: select.id }, [choice.says + " ", select]);
  });
  const form = made("form", { className: "reading" }, fields);
  form.onchange = () => {
    const reading = {};
    form.querySelectorAll("select, input").forEach((one) => { if (one.value) reading[one.name] = one.value; });
    act({ do: "read_as", reading });
  };
  form.onsubmit = (event) => event.preventDefault();
  return form;
}

function drawCheck(told) {
  explorer.checking = true;
  const found = made("div", {});
  found.innerHTML = told.html;
  openPanel("check", "Check of the orders", [...(told.choices ? [readingForm(told.choices)] : []), found]);
}

// Orders that cannot be opened as they are: what is wrong, and what each way to read them would mean.
function drawUnread(told) {
  ready();
  explorer.checking = false;
  explorer.offer = true;
  byId("sentence").textContent = "How are these orders read?";
  byId("undo").disabled = !told.undo;
  byId("redo").disabled = !told.redo;
  byId("figure").hidden = true;
  byId("open-check").hidden = true;
  closePanel();
  const ways = told.ways.map((way) => {
    const button = made("button", { type: "button" }, [made("b", {}, [way.words]), made("span", {}, [way.means])]);
    button.onclick = () => act({ do: "read_as", reading: way.reading });
    return made("li", {}, [button]);
  });
  const wrong = made("div", { className: "error" });
  wrong.innerHTML = told.html;
  byId("sheet").replaceChildren(made("div", { className: "unread" }, [
    wrong, ...(ways.length > 0 ? [made("ul", { className: "ways" }, ways)] : []),
    made("details", { open: ways.length === 0 }, [made("summary", {}, ["Read otherwise"]), readingForm(told.choices)]),
  ]));
}

// What is to be known of the orders is offered beside the table, and opened by whoever wants it.
function drawOffer(told) {
  const button = byId("open-check");
  button.classList.toggle("offer", told.n > 0);
  button.textContent = told.n === 0 ? "Check the orders"
    : told.n + (told.n === 1 ? " thing" : " things") + " to know before trusting these orders";
}

document.addEventListener("DOMContentLoaded", () => {
  heard("answer", drawAnswer);
  heard("lines", drawLines);
  heard("becomes", drawBecomes);
  heard("check", drawCheck);
  heard("offered", drawOffer);
  heard("unread", drawUnread);
  heard("exists", askToReplace);
  heard("written", (told) => {
    explorer.reports = told.reports;
    if (panel.form) panel.form.querySelector(".written").textContent = "wrote " + told.files.join(", ");
  });
  byId("open-becomes").onclick = () => say("becomes");
  byId("open-page").onclick = () => { drawPage(); byId("panel").focus({ preventScroll: true }); };
  byId("open-check").onclick = () => {
    drawOffer({ n: 0 });
    say("check");
  };
  byId("panel").addEventListener("keydown", (event) => {
    if (event.key === "Escape" && !menu.part) closePanel();
  });
});
