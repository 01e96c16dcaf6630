// Conditions by pointing: rows of a variable, a comparison and a value above a formula. R writes the
// formula from the rows, and the rows from the formula.
(function (desk) {
  var all = desk.all, at = desk.at;
  var typing = null, pointing = null;
  function boxOf(id) { return document.querySelector(".condition[data-for='" + id + "']"); }
  function make(tag, name, label) {
    var one = document.createElement(tag);
    one.className = name;
    if (label) one.setAttribute("aria-label", label);
    return one;
  }
  function rowOf(id, row, i) {
    var line = make("div", "line pick");
    var name = make("input", "pick-name", "Variable " + (i + 1));
    var how = make("select", "pick-how", "Comparison " + (i + 1));
    var value = make("input", "pick-value", "Value " + (i + 1));
    var list = make("datalist", "");
    var off = make("button", "chip-off", "Without this condition");
    name.type = value.type = "text";
    name.setAttribute("list", "variable-names");
    name.placeholder = "variable";
    name.value = row.name || "";
    JSON.parse(boxOf(id).dataset.hows).forEach(function (pair) { how.appendChild(new Option(pair[1], pair[0])); });
    how.value = row.how || "is";
    list.id = id + "-values-" + i;
    value.setAttribute("list", list.id);
    value.placeholder = "value";
    value.value = row.value || "";
    off.type = "button";
    off.textContent = "\u00d7";
    [name, how, value, list, off].forEach(function (part) { line.appendChild(part); });
    shape(line, boxOf(id));
    return line;
  }
  // Some comparisons have no value.
  function shape(line, box) {
    var how = line.querySelector(".pick-how").value;
    line.querySelector(".pick-value").hidden = JSON.parse(box.dataset.bare).indexOf(how) >= 0;
  }
  function draw(id, join, rows) {
    var box = boxOf(id).querySelector(".picks");
    box.textContent = "";
    rows.concat({}).forEach(function (row, i) {
      var line = rowOf(id, row, i);
      if (i === 1) line.prepend(joinOf(join));
      else if (i > 1) line.prepend(joinWord(join));
      box.appendChild(line);
      if (row.name) desk.say({ do: "choices", id: id, name: row.name, place: i });
    });
  }
  function joinOf(join) {
    var choice = make("select", "pick-join", "Joined by");
    [["and", "and"], ["or", "or"]].forEach(function (pair) { choice.appendChild(new Option(pair[1], pair[0])); });
    choice.value = join;
    return choice;
  }
  function joinWord(join) {
    var word = make("span", "pick-word");
    word.textContent = join;
    return word;
  }
  function rowsIn(box) {
    return all(box, ".pick").map(function (line) {
      return { name: line.querySelector(".pick-name").value, how: line.querySelector(".pick-how").value, value: line.querySelector(".pick-value").value };
    });
  }
  function joinIn(box) { var join = box.querySelector(".pick-join"); return join ? join.value : "and"; }

  // What stands in the formula is drawn as rows, where it can be.
  desk.pickFrom = function (id) { if (boxOf(id)) desk.say({ do: "picks", id: id, text: at(id).value }); };
  desk.picksIn = function (pane) {
    all(pane, ".condition").forEach(function (box) { desk.pickFrom(box.dataset.for); });
  };
  desk.acts.picks = function (told) {
    var box = boxOf(told.id);
    if (!box || box.contains(document.activeElement) && document.activeElement.closest(".picks")) return;
    box.dataset.sent = "";
    if (told.able) return draw(told.id, told.join, told.rows || []);
    box.querySelector(".picks").textContent = "The formula says more than can be pointed at.";
  };
  desk.acts.picked = function (told) {
    var field = at(told.id);
    if (!field || document.activeElement === field) return;
    var line = boxOf(told.id).querySelector(".pick-error") || make("div", "pick-error");
    boxOf(told.id).appendChild(line);
    line.textContent = (told.error || []).join(" ");
    if (told.error) return;
    field.value = told.text;
    if (field.closest("#form")) desk.fill(); else field.dispatchEvent(new Event("input", { bubbles: true }));
  };
  desk.acts.choices = function (told) {
    var list = at(told.id + "-values-" + told.place);
    if (!list) return;
    list.textContent = "";
    told.choices.forEach(function (one) { list.appendChild(new Option(one.words, one.value)); });
  };
  function changed(part) {
    var box = part.closest(".condition");
    var line = part.closest(".pick");
    if (line) {
      shape(line, box);
      if (part.classList.contains("pick-name") && desk.known(part.value)) {
        desk.say({ do: "choices", id: box.dataset.for, name: part.value, place: all(box, ".pick").indexOf(line) });
      }
      if (line === line.parentNode.lastElementChild && part.value) oneMore(box);
    }
    if (part.classList.contains("pick-join")) all(box, ".pick-word").forEach(function (word) { word.textContent = part.value; });
    var event = { do: "picked", id: box.dataset.for, join: joinIn(box), rows: rowsIn(box) };
    if (JSON.stringify(event) === box.dataset.sent) return;
    window.clearTimeout(pointing);
    pointing = window.setTimeout(function () {
      box.dataset.sent = JSON.stringify(event);
      desk.say(event);
    }, 200);
  }
  function oneMore(box) {
    var lines = all(box, ".pick");
    if (!lines[lines.length - 1].querySelector(".pick-name").value) return;
    var line = rowOf(box.dataset.for, {}, lines.length);
    line.prepend(lines.length === 1 ? joinOf("and") : joinWord(joinIn(box)));
    box.querySelector(".picks").appendChild(line);
  }
  document.addEventListener("input", function (event) {
    if (event.target.closest(".picks")) changed(event.target);
    else if (event.target.closest(".condition")) desk.soonPick(event.target.id);
  });
  desk.soonPick = function (id) {
    window.clearTimeout(typing);
    typing = window.setTimeout(function () { desk.pickFrom(id); }, 700);
  };
  document.addEventListener("change", function (event) {
    if (event.target.closest(".picks")) changed(event.target);
  });
  document.addEventListener("click", function (event) {
    var off = event.target.closest(".pick .chip-off");
    if (!off) return;
    var box = off.closest(".condition");
    off.closest(".pick").remove();
    var rows = rowsIn(box).filter(function (row) { return row.name; });
    draw(box.dataset.for, joinIn(box), rows);
    desk.say({ do: "picked", id: box.dataset.for, join: joinIn(box), rows: rows });
  });
})(window.desk);
