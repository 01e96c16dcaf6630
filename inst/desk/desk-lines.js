// Long lists, line by line: the variables, and the steps of the record. R sends the lines that are
// new or changed; older ones come as they scroll into sight.
(function (desk) {
  var all = desk.all, at = desk.at;

  function box(list) { return list === "variables" ? at("pane-variables") : document.querySelector("[data-into='" + list + "']"); }
  function lineOf(list, key) {
    return all(box(list), list === "variables" ? "[role='option']" : ".card").find(function (line) {
      return (list === "variables" ? line.dataset.name : line.dataset.place) === String(key);
    });
  }
  function fresh(html) {
    var place = document.createElement("template");
    place.innerHTML = html;
    return place.content.firstElementChild;
  }
  // Where the lines go on is counted from the first.
  function shift(list, by) {
    var more = box(list).querySelector(":scope > .more");
    if (more) more.dataset.from = Number(more.dataset.from) + by;
  }

  desk.acts.lines = function (told) {
    if (!box(told.list)) return;
    told.gone.forEach(function (key) {
      var line = lineOf(told.list, key);
      if (line) { line.remove(); shift(told.list, -1); }
    });
    told.put.forEach(function (one) { put(told.list, one); });
    var more = box(told.list).querySelector(":scope > .more[data-all]");
    if (more) more.dataset.all = told.all;
    changed(told.list);
  };
  function put(list, one) {
    var old = lineOf(list, one.key);
    var line = fresh(one.html);
    all(box(list), ":scope > .none").forEach(function (none) { none.remove(); });
    if (old) {
      keepOpen(old, line);
      old.replaceWith(line);
    } else if (one.after === undefined || one.after === null) {
      box(list).prepend(line);
      closeOthers(line);
      shift(list, 1);
    } else if (lineOf(list, one.after)) {
      lineOf(list, one.after).after(line);
      shift(list, 1);
    }
  }
  function changed(list) {
    desk.watch(box(list));
    if (list === "variables") desk.numberRows();
    else uses();
  }
  desk.acts.more = function (told) {
    var end = document.querySelector(".more[data-list='" + told.list + "']");
    if (!end) return;
    end.insertAdjacentHTML("afterend", told.html);
    var place = end.parentNode;
    end.remove();
    desk.watch(place);
    if (told.list === "variables") desk.numberRows();
  };
  desk.acts.into = function (told) {
    if (!box(told.list)) return;
    box(told.list).innerHTML = told.html;
    desk.watch(box(told.list));
  };

  // The record: the newest step stands open, and others that were opened by hand.
  function keepOpen(old, line) {
    var was = old.querySelector("details"), now = line.querySelector("details");
    if (!was || !was.open || now.open) return;
    now.open = true;
    now.dataset.held = was.dataset.held || "";
  }
  function closeOthers(line) {
    all(line.parentNode, ".card > details[open]").forEach(function (one) {
      if (one.parentNode !== line && !one.dataset.held) one.open = false;
    });
  }
  document.addEventListener("toggle", function (event) {
    var card = event.target.parentNode;
    if (!event.target.open || !card || !card.classList || !card.classList.contains("card")) return;
    if (!event.target.querySelector(".step-body").hasChildNodes()) desk.say({ do: "step", place: card.dataset.place });
  }, true);
  document.addEventListener("click", function (event) {
    var line = event.target.closest(".card > details > summary");
    if (line) line.parentNode.dataset.held = "true";
  });
  desk.acts.step = function (told) {
    var card = lineOf("record", told.place);
    if (card) card.querySelector(".step-body").innerHTML = told.html;
  };
  desk.acts.able = function (told) {
    document.querySelector("#undo-redo [data-do=undo]").disabled = !told.undo;
    document.querySelector("#undo-redo [data-do=redo]").disabled = !told.redo;
    document.querySelector("#undo-redo [data-do=print]").disabled = !told.some;
    at("find-step").hidden = told.some < 4;
  };
  document.addEventListener("input", function (event) {
    if (event.target.id !== "record-search") return;
    desk.soon(function () { desk.say({ do: "find", text: event.target.value }); }, 200);
  });
  desk.acts.print = function (told) {
    at("print").innerHTML = told.html;
    window.print();
  };

  // What depends on the step that one points at: all that reads what it makes, and what reads that.
  function names(card, key) { return JSON.parse(card.dataset[key] || "[]"); }
  function uses() { all(document, ".card.depends").forEach(function (one) { one.classList.remove("depends"); }); }
  function pointed(event) {
    var card = event.target.closest && event.target.closest(".card");
    uses();
    if (!card) return;
    var found = names(card, "makes");
    all(document, ".card").reverse().forEach(function (one) {
      if (one === card || Number(one.dataset.place) < Number(card.dataset.place)) return;
      if (!names(one, "reads").some(function (name) { return found.indexOf(name) >= 0; })) return;
      one.classList.add("depends");
      found = found.concat(names(one, "makes"));
    });
  }
  document.addEventListener("mouseover", pointed);
  document.addEventListener("focusin", pointed);
})(window.desk);
