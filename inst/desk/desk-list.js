// The list of variables: what is chosen by mouse and keys, and what it shows.
(function (desk) {
  var all = desk.all, at = desk.at;
  var last = null; // the variable that the keyboard or the mouse came to last
  var field = null; // the field that had the cursor when a variable was pressed
  var quoted = {};
  desk.picked = []; // what is chosen, in the order in which it was

  function rows() { return all(at("pane-variables"), "[role='option']"); }
  function choose(names) { desk.mark(names); desk.say({ do: "choose", names: names }); }
  function here() { return rows().find(function (row) { return row.dataset.name === last; }); }
  function nameOf(row) { return row.dataset.name; }

  desk.mark = function (names) {
    desk.picked = names.slice();
    rows().forEach(function (row) { row.setAttribute("aria-selected", names.indexOf(nameOf(row)) >= 0); });
    var told = at("chosen-count");
    if (told) told.textContent = names.length > 1 ? names.length + " chosen" : "";
  };

  // What is chosen comes into sight, also where it was just made.
  desk.showChosen = function () {
    var row = rows().find(function (one) { return one.dataset.name === desk.picked[0]; });
    if (row && document.activeElement !== at("pane-variables")) row.scrollIntoView({ block: "nearest" });
  };

  // Each line has an id, and its place among all, also those that have not come yet.
  var counter = 0;
  desk.numberRows = function () {
    var list = rows();
    var more = at("pane-variables").querySelector(".more[data-all]");
    var total = more ? Number(more.dataset.all) : list.length;
    list.forEach(function (row, i) {
      if (!row.id) { counter += 1; row.id = "v" + counter; }
      row.setAttribute("aria-posinset", i + 1);
      row.setAttribute("aria-setsize", Math.max(total, list.length));
    });
    var active = at("pane-variables").getAttribute("aria-activedescendant");
    if (active && !at(active)) at("pane-variables").removeAttribute("aria-activedescendant");
    desk.mark(desk.picked);
  };

  function come(row) {
    all(at("pane-variables"), ".here").forEach(function (one) { one.classList.remove("here"); });
    if (!row) return;
    row.classList.add("here");
    row.scrollIntoView({ block: "nearest" });
    at("pane-variables").setAttribute("aria-activedescendant", row.id);
    last = nameOf(row);
  }
  function toggle(row) {
    var names = desk.picked.slice();
    var place = names.indexOf(nameOf(row));
    if (place < 0) names.push(nameOf(row)); else names.splice(place, 1);
    choose(names);
  }
  function stretch(row, more) {
    var list = rows();
    var a = list.indexOf(here());
    var b = list.indexOf(row);
    if (a < 0) a = b;
    var names = list.slice(Math.min(a, b), Math.max(a, b) + 1).map(nameOf);
    choose(more ? joined(desk.picked, names) : names);
  }
  function joined(names, more) {
    return names.concat(more.filter(function (name) { return names.indexOf(name) < 0; }));
  }

  // A variable that is pressed while a field of names or a formula has the cursor goes into it.
  function takesNames(input) {
    return input && input.matches && input.closest("#form, #leave-form") &&
      input.matches(".chip-input, .put-name, textarea.code, input[list='variable-names'], .pick-name");
  }
  document.addEventListener("mousedown", function (event) {
    var row = event.target.closest && event.target.closest("[role='option']");
    field = row && takesNames(document.activeElement) ? document.activeElement : null;
    if (field) event.preventDefault();
  });
  document.addEventListener("click", function (event) {
    var row = event.target.closest("[role='option']");
    if (!row) return;
    if (field && document.contains(field)) { desk.putInto(field, nameOf(row)); return; }
    if (event.shiftKey) stretch(row, event.ctrlKey || event.metaKey);
    else if (event.ctrlKey || event.metaKey || event.target.closest(".tick")) toggle(row);
    else choose([nameOf(row)]);
    if (!event.shiftKey) come(row);
  });

  desk.listKey = function (event) {
    var list = rows();
    var place = list.indexOf(here());
    var moves = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10, Home: -1e9, End: 1e9 };
    var row = here();
    if (event.key in moves) {
      var next = place < 0 ? list[0] : list[Math.max(0, Math.min(list.length - 1, place + moves[event.key]))];
      if (event.shiftKey && next) choose(joined(desk.picked, [row, next].filter(Boolean).map(nameOf)));
      come(next);
    } else if (event.key === " " && row) toggle(row);
    else if (event.key === "Enter" && row) choose([nameOf(row)]);
    else if (event.key === "a" && (event.ctrlKey || event.metaKey)) choose(list.map(nameOf));
    else return;
    event.preventDefault();
  };

  // What is looked for, shown and sorted by.
  function view() {
    desk.say({ do: "list", search: at("search").value, show: at("list-show").value, sort: at("list-sort").value });
  }
  document.addEventListener("input", function (event) {
    if (event.target.classList.contains("list-tool")) desk.soon(view, 200);
  });

  // The sets that there are, as further choices of what is shown.
  desk.acts.names = function (told) {
    var list = at("variable-names");
    list.textContent = "";
    quoted = {};
    told.names.forEach(function (name, i) {
      list.appendChild(new Option("", name));
      quoted["v" + name] = told.quoted[i];
    });
    var show = at("list-show");
    var now = show.value;
    all(show, "option[value^='set: ']").forEach(function (option) { option.remove(); });
    told.sets.forEach(function (name) { show.appendChild(new Option("set: " + name, "set: " + name)); });
    show.value = now;
    if (!show.value) show.value = "all";
  };
  // A name as it is written in a formula.
  desk.inFormula = function (name) { return quoted["v" + name] || name; };
  desk.known = function (name) {
    return Array.prototype.some.call(at("variable-names").options, function (option) { return option.value === name; });
  };
  desk.begins = function (text) {
    return Array.prototype.some.call(at("variable-names").options, function (option) { return option.value.indexOf(text) === 0; });
  };
})(window.desk);
