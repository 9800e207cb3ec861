// The table answers: arrows walk its cells, Enter or a click opens a figure or takes a member.
"use strict";

function cellsOf(table) {
  return [...table.querySelectorAll("tbody td, tbody th, thead th")].filter((cell) => cell.textContent.trim() !== "");
}

function readyTable() {
  const sheet = byId("sheet");
  const headlines = [...sheet.querySelectorAll(".headlines li")];
  const table = sheet.querySelector("table");
  const cells = table ? cellsOf(table) : headlines;
  cells.forEach((cell) => { cell.tabIndex = -1; });
  const first = cells.find((cell) => cell.matches("tbody .figure, li")) || cells[0];
  if (first) first.tabIndex = 0;
  const wide = sheet.querySelector(".wide");
  if (wide) wide.removeAttribute("tabindex");
  const more = sheet.querySelector(".more-rows");
  if (more) more.onclick = () => say("rows");
  const turn = sheet.querySelector(".turn");
  if (turn) turn.onclick = () => act({ do: "turn" });
}

// The column of a cell, spans counted, from 1.
function columnOf(cell) {
  let column = 1;
  for (let before = cell.previousElementSibling; before; before = before.previousElementSibling) {
    column += before.colSpan || 1;
  }
  return column;
}

function placeOf(cell) {
  if (cell.matches("li")) return { row: [...cell.parentElement.children].indexOf(cell) + 1, col: 2 };
  const row = cell.parentElement;
  if (row.parentElement.tagName === "THEAD") {
    return { row: 0, col: columnOf(cell), level: [...row.parentElement.children].indexOf(row) + 1 };
  }
  const rows = [...row.closest("table").querySelectorAll("tbody tr")];
  return { row: rows.indexOf(row) + 1, col: columnOf(cell), level: 0 };
}

function openCell(cell) {
  const before = document.querySelector(".open-figure");
  if (before) before.classList.remove("open-figure");
  if (cell.matches(".figure, td, li")) cell.classList.add("open-figure");
  explorer.cell = cell;
  explorer.sent = performance.now();
  say("place", placeOf(cell));
}

function walk(cell, key) {
  if (cell.matches("li")) {
    const to = key === "ArrowLeft" || key === "ArrowUp" ? cell.previousElementSibling : cell.nextElementSibling;
    if (to) to.focus();
    return;
  }
  const rows = [...cell.closest("table").querySelectorAll("tr")];
  let row = rows.indexOf(cell.parentElement);
  let column = columnOf(cell);
  const step = { ArrowRight: [0, 1], ArrowLeft: [0, -1], ArrowDown: [1, 0], ArrowUp: [-1, 0] }[key];
  for (let tries = 0; tries < 200; tries += 1) {
    row += step[0];
    column += step[1];
    if (!rows[row] || column < 1) return;
    const to = [...rows[row].children].find((one) => {
      const from = columnOf(one);
      return column >= from && column < from + (one.colSpan || 1);
    });
    if (!to) return;
    if (to.tabIndex === -1 && to.textContent.trim() !== "") {
      cell.tabIndex = -1;
      to.tabIndex = 0;
      return to.focus();
    }
  }
}

document.addEventListener("click", (event) => {
  const cell = event.target.closest("#sheet td, #sheet th, #sheet .headlines li");
  if (cell && cell.hasAttribute("tabindex") && !event.target.closest("button")) openCell(cell);
});
document.addEventListener("keydown", (event) => {
  const cell = event.target.closest && event.target.closest("#sheet td, #sheet th, #sheet .headlines li");
  if (!cell || event.target !== cell) return;
  if (event.key.startsWith("Arrow")) {
    event.preventDefault();
    walk(cell, event.key);
  } else if (event.key === "Enter" || event.key === " ") {
    event.preventDefault();
    openCell(cell);
  }
});
document.addEventListener("DOMContentLoaded", () => {
  heard("rows", (told) => {
    byId("sheet").innerHTML = told.table;
    readyTable();
  });
});
