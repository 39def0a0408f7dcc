(function () {
  "use strict";
  var table = document.getElementById("table"), body = table.tBodies[0], rows = Array.from(body.rows);
  var search = document.getElementById("search"), stands = document.getElementById("stands");
  var said = document.getElementById("shown"), heads = Array.from(table.tHead.rows[0].cells);
  function filter() {
    var words = search.value.trim().toLowerCase(), count = 0;
    rows.forEach(function (row) {
      var fits = (!words || row.textContent.toLowerCase().indexOf(words) >= 0) &&
        (!stands.value || row.cells[1].textContent === stands.value);
      row.hidden = !fits;
      if (fits) { count += 1 }
    });
    said.textContent = count + " of " + rows.length + " shown";
  }
  heads.forEach(function (head, at) {
    head.querySelector("button").addEventListener("click", function () {
      var up = head.getAttribute("aria-sort") !== "ascending";
      heads.forEach(function (each) { each.setAttribute("aria-sort", "none") });
      head.setAttribute("aria-sort", up ? "ascending" : "descending");
      rows.sort(function (a, b) {
        var order = a.cells[at].textContent.localeCompare(b.cells[at].textContent, "en", { numeric: true });
        return up ? order : -order;
      });
      rows.forEach(function (row) { body.appendChild(row) });
    });
  });
  search.addEventListener("input", filter);
  stands.addEventListener("change", filter);
  filter();
})();
