(function () {
  "use strict";
  var data = JSON.parse(document.getElementById("data").textContent), all = data.rows, rows = all, from = 0;
  var body = document.getElementById("table").tBodies[0], heads = Array.from(body.parentNode.tHead.rows[0].cells);
  var search = document.getElementById("search"), stands = document.getElementById("stands");
  var said = document.getElementById("shown"), back = document.getElementById("back"), on = document.getElementById("on");
  var narrow = [1, 3, 5];
  function cell(row, text, at) {
    var made = row.insertCell();
    if (narrow.indexOf(at) >= 0) { made.className = "state" }
    if (at) { made.textContent = text; return }
    var code = made.appendChild(document.createElement("code"));
    text.split(".").forEach(function (label, number) {  // a name may break after a dot
      if (number) { code.append(".", document.createElement("wbr")) }
      code.append(label);
    });
  }
  function draw() {
    var part = rows.slice(from, from + data.at_once);
    body.textContent = "";
    part.forEach(function (each) {
      var row = body.insertRow();
      each.slice(0, data.columns).forEach(function (text, at) { cell(row, text, at) });
      each.slice(each.length - data.own).forEach(function (text) { if (data.own) { cell(row, text, -1) } });
    });
    said.textContent = (part.length ? from + 1 + " to " + (from + part.length) + " of " : "") + rows.length +
      (rows.length < all.length ? " (" + all.length + " in all)" : "");
    back.disabled = !from;
    on.disabled = from + data.at_once >= rows.length;
  }
  function filter() {
    var words = search.value.trim().toLowerCase().split(/\s+/), wanted = [];
    words = words.filter(function (word) {
      var at = data.keys.indexOf(word.split("=")[0]);
      if (word.indexOf("=") < 1 || at < 0) { return word }
      wanted.push([at, word.slice(word.indexOf("=") + 1)]);
    });
    rows = all.filter(function (row) {
      var text = words.length ? row.join("\n").toLowerCase() : "";
      return (!stands.value || row[1] === stands.value) &&
        words.every(function (word) { return text.indexOf(word) >= 0 }) &&
        wanted.every(function (each) { return row[each[0]].toLowerCase().indexOf(each[1]) === 0 });
    });
    from = 0;
    draw();
  }
  heads.forEach(function (head, number) {
    var at = number < data.columns ? number : data.keys.length - data.own + number - data.columns;
    head.querySelector("button").addEventListener("click", function () {
      var up = head.getAttribute("aria-sort") !== "ascending";
      heads.forEach(function (each) { each.setAttribute("aria-sort", "none") });
      head.setAttribute("aria-sort", up ? "ascending" : "descending");
      var order = new Intl.Collator("en", { numeric: true }).compare;
      all = all.slice().sort(function (a, b) { return up ? order(a[at], b[at]) : order(b[at], a[at]) });
      filter();
    });
  });
  back.addEventListener("click", function () { from = Math.max(0, from - data.at_once); draw() });
  on.addEventListener("click", function () { from += data.at_once; draw() });
  search.addEventListener("input", filter);
  stands.addEventListener("change", filter);
  draw();
})();
