// "On this page": the headings of an article, as links.
window.Toc = { init: function () {
  var nav = document.getElementById("toc");
  var heads = document.querySelectorAll("main h2[id], main h3[id], main div[id] > h2, main div[id] > h3");
  if (!nav || heads.length === 0) return;
  var list = document.createElement("ul");
  list.className = "nav flex-column";
  heads.forEach(function (head) {
    var link = document.createElement("a");
    var copy = head.cloneNode(true);
    copy.querySelectorAll(".anchor").forEach(function (anchor) { anchor.remove(); });
    link.className = "nav-link py-1" + (head.tagName === "H3" ? " ms-3" : "");
    link.href = "#" + (head.id || head.parentElement.id);
    link.textContent = copy.textContent.trim();
    list.appendChild(document.createElement("li")).appendChild(link);
  });
  nav.appendChild(list);
} };
