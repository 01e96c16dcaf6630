// The grid of rows: only what is in sight is there. R is asked for it when one has stopped to scroll.
(function (desk) {
  var all = desk.all, at = desk.at;
  var high = 26, wide = 132, head = 78; // of a line, a column and the names of the rows, in pixels
  var tallest = 12e6; // browsers draw no taller box
  var now = null; // what was answered last
  var here = { row: 1, column: 1 }; // the cell that the keyboard is at
  var asked = "";

  function grid() { return at("grid"); }
  function scale() { return now ? Math.max(1, now.all * high / tallest) : 1; }

  // What is in sight, asked for where it is another than was asked last.
  function ask(again) {
    var box = grid();
    if (!box) return;
    var first = Math.floor(box.scrollTop * scale() / high) + 1;
    var column = Math.floor(box.scrollLeft / wide) + 1;
    var event = { do: "grid", from: Math.max(1, first - 5), n: Math.ceil(box.clientHeight / high) + 12,
      column: Math.max(1, column - 1), columns: Math.ceil(box.clientWidth / wide) + 3,
      where: at("grid-where") ? at("grid-where").value : "", sort: box.dataset.sort, down: box.dataset.down === "true" };
    var key = JSON.stringify(event);
    if (key === asked && !again) return;
    asked = key;
    box.setAttribute("aria-busy", "true");
    desk.say(event);
  }
  var waiting = null;
  function askSoon(pause) { window.clearTimeout(waiting); waiting = window.setTimeout(ask, pause); }
  desk.gridAgain = function () { if (grid()) ask(true); };
  desk.gridOpened = function () {
    if (!grid() || grid().dataset.ready) return;
    grid().dataset.ready = "true";
    grid().addEventListener("scroll", function () { askSoon(80); });
    now = null;
    here = { row: 1, column: 1 };
    ask(true);
  };
  window.addEventListener("resize", function () { askSoon(200); });

  desk.acts.grid = function (told) {
    var box = grid();
    if (!box) return;
    box.removeAttribute("aria-busy");
    at("grid-error").textContent = (told.error || []).join(" ");
    if (told.error) return;
    now = told;
    draw(box);
    at("grid-told").textContent = number(told.all) + (told.all < told.of ? " of " + number(told.of) : "") + " rows, " +
      number(told.count) + " variables";
    at("grid-plain").hidden = !box.dataset.sort && told.all === told.of;
  };
  function number(n) { return String(n).replace(/\B(?=(\d{3})+$)/g, ","); }
  function element(tag, role, name, text) {
    var one = document.createElement(tag);
    one.setAttribute("role", role);
    if (name) one.className = name;
    if (text !== undefined) one.textContent = text;
    return one;
  }
  function draw(box) {
    var inner = box.querySelector(".grid-all");
    var focused = document.activeElement && box.contains(document.activeElement) && document.activeElement !== box;
    inner.textContent = "";
    inner.style.height = Math.min(tallest, (now.all + 1) * high) + high + "px";
    inner.style.width = head + now.count * wide + "px";
    box.setAttribute("aria-rowcount", now.all + 1);
    box.setAttribute("aria-colcount", now.count + 1);
    inner.appendChild(names(box));
    var top = scale() === 1 ? now.from * high : box.scrollTop + high - Math.max(0, Math.floor(box.scrollTop * scale() / high) + 1 - now.from) * high;
    now.heads.forEach(function (name, i) { inner.appendChild(line(name, i, top + i * high)); });
    if (focused) focusCell();
  }
  function names(box) {
    var row = element("div", "row", "grid-names");
    row.setAttribute("aria-rowindex", 1);
    row.appendChild(place(element("div", "columnheader", "grid-cell row-head", now.head), 0, 0));
    now.columns.forEach(function (column, i) {
      var cell = element("div", "columnheader", "grid-cell" + (column.made ? " derived" : ""));
      var press = document.createElement("button");
      var sorted = box.dataset.sort === column.name;
      press.type = "button";
      press.tabIndex = -1;
      press.textContent = column.name + (sorted ? (box.dataset.down === "true" ? " \u2193" : " \u2191") : "");
      press.title = column.label || column.name;
      press.dataset.column = column.name;
      press.className = "grid-sort";
      cell.setAttribute("aria-sort", sorted ? (box.dataset.down === "true" ? "descending" : "ascending") : "none");
      cell.appendChild(press);
      row.appendChild(place(cell, now.column + i, 0));
    });
    return row;
  }
  // A cell at its column: the first one holds the names of the rows.
  function place(cell, column) {
    cell.setAttribute("aria-colindex", column + 1);
    cell.style.left = (column ? head + (column - 1) * wide : 0) + "px";
    cell.style.width = (column ? wide : head) + "px";
    return cell;
  }
  function line(name, i, top) {
    var row = element("div", "row", "grid-row");
    row.style.top = top + "px";
    row.dataset.key = now.keys[i];
    row.setAttribute("aria-rowindex", now.from + i + 1);
    row.appendChild(place(element("div", "rowheader", "grid-cell row-head", name), 0));
    now.columns.forEach(function (column, j) {
      var cell = element("div", "gridcell", "grid-cell" + (column.gone[i] ? " gone" : "") + (column.made ? " derived" : ""), column.cells[i]);
      cell.tabIndex = -1;
      if (column.cells[i].length > 16) cell.title = column.cells[i];
      row.appendChild(place(cell, now.column + j));
    });
    return row;
  }

  // The keyboard goes from cell to cell; Enter shows the working of the row.
  function focusCell() {
    var row = grid().querySelector("[aria-rowindex='" + (here.row + 1) + "']");
    var cell = row && row.querySelector("[aria-colindex='" + (here.column + 1) + "']");
    if (!cell) return;
    all(grid(), "[tabindex='0']").forEach(function (one) { one.tabIndex = -1; });
    cell.tabIndex = 0;
    cell.focus({ preventScroll: true });
  }
  function intoSight() {
    var box = grid();
    var top = here.row * high / scale(), left = (here.column - 1) * wide;
    if (top - high < box.scrollTop) box.scrollTop = top - high;
    if (top + 2 * high > box.scrollTop + box.clientHeight) box.scrollTop = top + 2 * high - box.clientHeight;
    if (left < box.scrollLeft) box.scrollLeft = left;
    if (left + wide + head > box.scrollLeft + box.clientWidth) box.scrollLeft = left + wide + head - box.clientWidth;
  }
  document.addEventListener("keydown", function (event) {
    var box = grid();
    if (!box || !now || !box.contains(event.target) || event.target.tagName === "BUTTON") return;
    var page = Math.max(1, Math.floor(box.clientHeight / high) - 2);
    var moves = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1], PageDown: [page, 0],
      PageUp: [-page, 0], Home: [0, -1e9], End: [0, 1e9] };
    if (event.key === "Enter") { working(here.row - now.from); event.preventDefault(); return; }
    if (!(event.key in moves)) return;
    var move = event.ctrlKey && event.key === "Home" ? [-1e9, -1e9] : event.ctrlKey && event.key === "End" ? [1e9, 1e9] : moves[event.key];
    if (event.target !== box) {
      here.row = Math.max(1, Math.min(now.all, here.row + move[0]));
      here.column = Math.max(1, Math.min(now.count, here.column + move[1]));
    }
    intoSight();
    focusCell();
    event.preventDefault();
  });
  function working(i) {
    var key = now.keys[i];
    all(grid(), ".grid-row.chosen").forEach(function (one) { one.classList.remove("chosen"); });
    var row = all(grid(), ".grid-row")[i];
    if (row) row.classList.add("chosen");
    if (key !== undefined && key !== null) desk.say({ do: "row", key: key });
  }
  document.addEventListener("click", function (event) {
    var box = grid();
    if (!box) return;
    var sort = event.target.closest(".grid-sort");
    var row = event.target.closest(".grid-row");
    if (sort) turn(box, sort.dataset.column);
    else if (event.target.id === "grid-plain") {
      box.dataset.sort = "";
      at("grid-where").value = "";
      desk.pickFrom("grid-where");
      ask(true);
    } else if (row && now) {
      var cell = event.target.closest(".grid-cell");
      here = { row: Number(row.getAttribute("aria-rowindex")) - 1, column: Math.max(1, Number(cell.getAttribute("aria-colindex")) - 1) };
      focusCell();
      working(here.row - now.from);
    }
  });
  // Up, down, and as the rows stand.
  function turn(box, name) {
    if (box.dataset.sort !== name) { box.dataset.sort = name; box.dataset.down = ""; }
    else if (box.dataset.down !== "true") box.dataset.down = "true";
    else { box.dataset.sort = ""; box.dataset.down = ""; }
    box.scrollTop = 0;
    ask(true);
  }
  document.addEventListener("input", function (event) {
    if (event.target.id === "grid-where") askSoon(500);
    if (event.target.id === "value-search") {
      desk.soon(function () { desk.say({ do: "values", name: event.target.dataset.name, text: event.target.value }); }, 200);
    }
  });
  document.addEventListener("toggle", function (event) {
    var search = event.target.open && event.target.querySelector("#value-search");
    if (search && !at("values").hasChildNodes()) desk.say({ do: "values", name: search.dataset.name, text: "" });
  }, true);
})(window.desk);
