// The page: what R sends is put into its panes; what is done on it is said to R.
(function (desk) {
  function at(id) { return document.getElementById(id); }
  function all(box, selector) { return Array.prototype.slice.call(box.querySelectorAll(selector)); }
  var last = null; // the variable that the keyboard or the mouse came to last
  var picked = []; // what is chosen, in the order in which it was
  var calls = ""; // the work so far as calls of R

  // What R asks the page to do.
  var acts = {
    pane: function (told) {
      var pane = at("pane-" + told.pane);
      var focus = focusIn(pane);
      var old = told.pane === "trial" && pane.querySelector("svg");
      pane.innerHTML = told.html;
      var place = old && pane.querySelector(".picture");
      if (place) { place.appendChild(old); place.classList.add("old"); }
      if (told.pane === "form") opened(pane);
      if (told.pane === "trial") at("desk").classList.toggle("forming", told.html !== "");
      watch(pane);
      focusAgain(pane, focus);
    },
    more: function (told) {
      var end = document.querySelector(".more[data-list='" + told.list + "']");
      if (!end) return;
      end.insertAdjacentHTML("afterend", told.html);
      var box = end.parentNode;
      joinGroups(box);
      end.remove();
      watch(box);
    },
    measured: function (told) {
      rows().forEach(function (row) {
        if (row.dataset.name === told.name) row.querySelector(".share").innerHTML = told.html;
      });
    },
    picture: function (told) {
      all(document, ".picture").forEach(function (place) {
        if (place.dataset.picture !== told.of || place.dataset.name !== told.name) return;
        place.classList.remove("old");
        place.innerHTML = told.html;
      });
    },
    place: function (told) { if (at(told.place)) at(told.place).innerHTML = told.html; },
    chosen: function (told) {
      mark(told.names);
      at("now-title").textContent = told.title;
    },
    tried: function (told) {
      var form = at("form");
      if (!form) return;
      desk.soFar(told.becomes);
      if (at("f-as")) at("f-as").placeholder = told.makes && told.makes.length === 1 ? told.makes[0] : "";
      all(form, "[data-field]").forEach(function (box) { desk.fieldError(box, null); });
      if (told.error) desk.fieldError(form.querySelector("[data-field='" + told.argument + "']"),
        told.error);
    },
    names: function (told) {
      var list = at("variable-names");
      list.textContent = "";
      told.names.forEach(function (name) {
        var option = document.createElement("option");
        option.value = name;
        list.appendChild(option);
      });
    },
    after: function (told) {
      if (told.failed) return;
      if (told.act === "ask" || told.act === "amend") focusForm();
      if (told.act === "keep" && !told.open) focusOn(at("now-title"));
      if (told.act === "leave") focusOn(at("question-title") || at("now-title"));
    },
    status: function (told) { at("status").textContent = told.text; at("trouble").textContent = ""; },
    trouble: function (told) { at("trouble").innerHTML = told.html; },
    dialog: function (told) {
      at("pane-dialog").innerHTML = told.html;
      desk.forgetFiles();
      if (!at("dialog").open) at("dialog").showModal();
      var first = at("pane-dialog").querySelector("input:not([type='file']), button.main");
      if (first) first.focus();
    },
    left: function (told) {
      at("left").innerHTML = told.html;
      all(at("leave-form"), "[data-field]").forEach(function (box) { desk.fieldError(box, null); });
      var field = at("leave-form").querySelector("[data-field='" + told.argument + "']");
      if (told.error && field) {
        desk.fieldError(field, told.error);
        at("left").textContent = "";
      }
    },
    answered: function (told) { desk.answered(told.n); },
    calls: function (told) { calls = told.text; },
    elsewhere: function () {
      desk.forget();
      bar("The desk went on in another window.", "Work on here", function () {
        at("trouble").textContent = "";
        desk.say({ do: "hello" });
      });
    },
    closed: function (told) {
      desk.forget();
      at("desk").setAttribute("data-state", "closed");
      document.body.textContent = told.words;
    }
  };

  // R is gone: the page stays, says what is safe where, and gives the calls.
  function lost() {
    var state = at("pane-kept").querySelector("[data-kept]");
    var kept = state ? state.dataset : {};
    var safe = {
      sheet: "Every step is in " + kept.where + ".",
      saved: "Every step is in " + kept.where + ".",
      aside: "What was done (" + kept.steps + ") is kept aside in " + kept.where + ". Open the same data again, and it is offered.",
      nothing: "Nothing had been done that is to be kept.",
      none: "What was done (" + kept.steps + ") is in no file: copy the R calls, and keep them."
    }[kept.kept] || "";
    at("desk").classList.add("lost");
    bar("R does not answer any more. " + safe, "Connect again", comeBack);
    if (calls) {
      var copy = document.createElement("button");
      copy.type = "button";
      copy.className = "copy-calls";
      copy.textContent = "Copy the R calls";
      at("trouble").appendChild(copy);
    }
  }
  // The page is left only where there is an answer.
  function comeBack() {
    fetch("/", { cache: "no-store", credentials: "same-origin" }).then(function (answer) {
      if (answer.ok) window.location.reload();
      else stillNot("The desk asks for a new address: use the one that R has printed.");
    }, function () { stillNot("There is no answer yet. The page stays as it is."); });
  }
  function stillNot(words) {
    var place = at("trouble").querySelector(".still") || document.createElement("div");
    place.className = "still";
    place.textContent = words;
    at("trouble").appendChild(place);
  }
  function copyCalls(button) {
    var box = button.parentNode.querySelector("textarea.calls") || document.createElement("textarea");
    box.className = "calls";
    box.readOnly = true;
    box.rows = 8;
    box.setAttribute("aria-label", "The R calls");
    box.value = calls;
    button.parentNode.appendChild(box);
    box.focus();
    box.select();
    if (navigator.clipboard) navigator.clipboard.writeText(calls).catch(function () {});
  }

  function bar(words, button, done) {
    var place = at("trouble");
    var press = document.createElement("button");
    place.textContent = words + " ";
    press.type = "button";
    press.textContent = button;
    press.addEventListener("click", done);
    place.appendChild(press);
  }

  // Where the keyboard was in a pane that is filled anew, and the same place in it afterwards.
  function focusIn(pane) {
    var now = document.activeElement;
    if (!now || now === pane || !pane.contains(now)) return null;
    return { id: now.id, do: now.dataset.do, name: now.dataset.name, to: now.dataset.to };
  }
  function focusAgain(pane, focus) {
    if (!focus) return;
    var same = all(pane, "button, input, select, textarea").find(function (one) {
      return focus.id ? one.id === focus.id : one.dataset.do && one.dataset.do === focus.do &&
        one.dataset.name === focus.name && one.dataset.to === focus.to && !one.disabled;
    });
    var title = pane.closest("section") && pane.closest("section").querySelector("h2");
    if (same) same.focus(); else if (title) { title.tabIndex = -1; title.focus(); }
  }
  function focusOn(place) { if (place) { place.focus(); place.scrollIntoView({ block: "nearest" }); } }
  function focusForm() {
    var title = at("form-title");
    if (!title) return;
    title.scrollIntoView({ block: "start" });
    at("record").scrollTop = 0;
    var first = at("form").querySelector("input:not([type='radio']):not([hidden]), select, textarea");
    (first || title).focus({ preventScroll: true });
  }

  function opened(pane) {
    desk.forgetFiles();
    all(pane, ".rules").forEach(desk.labelLines);
  }

  // Groups of the same title that came in two pieces become one.
  function joinGroups(box) {
    var met = {};
    all(box, "[data-group]").forEach(function (group) {
      var first = met[group.dataset.group];
      if (!first) { met[group.dataset.group] = group; return; }
      all(group, "[role='option']").forEach(function (row) { first.appendChild(row); });
      group.remove();
    });
  }

  // Lists load further rows, and rows are counted, when they come into sight.
  var seen = new IntersectionObserver(function (entries) {
    entries.forEach(function (entry) {
      if (!entry.isIntersecting) return;
      var part = entry.target;
      seen.unobserve(part);
      if (part.classList.contains("more")) {
        desk.say({ do: "more", list: part.dataset.list, from: Number(part.dataset.from) });
      } else measure(part);
    });
  });
  var unmeasured = [];
  function measure(row) {
    unmeasured.push(row.dataset.name);
    window.setTimeout(function () {
      while (unmeasured.length) desk.say({ do: "measure", names: unmeasured.splice(0, 12) });
    }, 60);
  }
  function watch(pane) {
    all(pane, ".more").forEach(function (end) { seen.observe(end); });
    all(pane, "[role='option']").forEach(function (row) {
      if (!row.querySelector(".bar")) seen.observe(row);
    });
    all(pane, ".picture:not(:has(svg:only-child)), .picture.old").forEach(function (place) {
      if (place.dataset.name) desk.say({ do: "picture", of: place.dataset.picture, name: place.dataset.name });
    });
  }

  // The list of variables.
  function rows() { return all(at("pane-variables"), "[role='option']"); }
  function choose(names) { desk.say({ do: "choose", names: names }); }
  function come(row) {
    all(at("pane-variables"), ".here").forEach(function (one) { one.classList.remove("here"); });
    if (!row) return;
    row.classList.add("here");
    row.scrollIntoView({ block: "nearest" });
    at("pane-variables").setAttribute("aria-activedescendant", row.id);
    last = row.dataset.name;
  }
  function here() {
    return rows().find(function (row) { return row.dataset.name === last; });
  }
  function toggle(row) {
    var names = picked.slice();
    var place = names.indexOf(row.dataset.name);
    if (place < 0) names.push(row.dataset.name); else names.splice(place, 1);
    mark(names);
    choose(names);
  }
  function stretch(row, more) {
    var list = rows();
    var a = list.indexOf(here());
    var b = list.indexOf(row);
    if (a < 0) a = b;
    var names = list.slice(Math.min(a, b), Math.max(a, b) + 1).map(function (one) { return one.dataset.name; });
    if (more) names = picked.concat(names.filter(function (name) { return picked.indexOf(name) < 0; }));
    mark(names);
    choose(names);
  }
  function only(row) { mark([row.dataset.name]); choose([row.dataset.name]); }
  function mark(names) {
    picked = names.slice();
    rows().forEach(function (row) {
      row.setAttribute("aria-selected", names.indexOf(row.dataset.name) >= 0);
    });
  }
  function listKey(event) {
    var list = rows();
    var place = list.indexOf(here());
    var moves = { ArrowDown: 1, ArrowUp: -1, PageDown: 10, PageUp: -10, Home: -1e9, End: 1e9 };
    var row = here();
    if (event.key in moves) {
      var next = list[Math.max(0, Math.min(list.length - 1, place + moves[event.key]))];
      if (place < 0) next = list[0];
      if (event.shiftKey && next) {
        var names = picked.slice();
        [row, next].forEach(function (one) {
          if (one && names.indexOf(one.dataset.name) < 0) names.push(one.dataset.name);
        });
        mark(names);
        choose(names);
      }
      come(next);
    } else if (event.key === " " && row) toggle(row);
    else if (event.key === "Enter" && row) only(row);
    else if (event.key === "a" && event.ctrlKey) { mark(list.map(function (one) { return one.dataset.name; })); choose(picked); }
    else return;
    event.preventDefault();
  }

  // What is pressed.
  function said(button) {
    var event = {};
    Object.keys(button.dataset).forEach(function (key) { event[key] = button.dataset[key]; });
    if (event.names) event.names = JSON.parse(event.names);
    if (event.suspects) event.suspects = true;
    if (event.anew) event.anew = true;
    if (event.do === "working") event.row = at("row").value;
    if (event.do === "rename") event.to = at("rename-to").value;
    return event;
  }
  function fill(now) {
    var send = function () {
      var form = at("form");
      if (form) desk.say({ do: "fill", verb: form.dataset.verb, typed: desk.typed(form) });
    };
    if (now) desk.now(send); else desk.soon(send, 250);
  }
  function keep() { fill(true); desk.say({ do: "keep" }); }
  function tab(button) {
    all(document, "[role='tab']").forEach(function (one) {
      one.setAttribute("aria-selected", one === button);
      one.tabIndex = one === button ? 0 : -1;
    });
    at("desk").classList.toggle("reading", button.dataset.tab !== "record");
    at("pane-tab").setAttribute("aria-labelledby", button.id);
    desk.say({ do: "tab", tab: button.dataset.tab });
  }

  document.addEventListener("click", function (event) {
    var row = event.target.closest("[role='option']");
    if (row) {
      if (event.shiftKey) stretch(row, event.ctrlKey || event.metaKey);
      else if (event.ctrlKey || event.metaKey || event.target.closest(".tick")) toggle(row);
      else only(row);
      if (!event.shiftKey) come(row);
      return;
    }
    var button = event.target.closest("button");
    if (!button) return;
    if (button.dataset.tab) tab(button);
    else if (button.classList.contains("close-dialog")) at("dialog").close();
    else if (button.classList.contains("copy-calls")) copyCalls(button);
    else if (button.classList.contains("chip-off")) { button.parentNode.remove(); fill(); }
    else if (button.classList.contains("take-chosen")) {
      picked.forEach(function (name) { desk.addChip(button.parentNode.querySelector("input"), name); });
    } else if (button.classList.contains("add-line")) desk.addLine(button);
    else if (button.classList.contains("accept-in-form")) desk.acceptLine(at("form"), button.dataset.finding);
    else if (button.classList.contains("accept-it")) accept(button.closest(".accept"));
    else if (button.dataset.do) desk.say(said(button));
  });
  function accept(line) {
    desk.say({ do: "accept", name: line.dataset.name, finding: line.dataset.finding,
      reason: line.querySelector(".reason").value });
  }

  document.addEventListener("submit", function (event) {
    event.preventDefault();
    if (event.target.id === "form") keep();
    if (event.target.id !== "leave-form") return;
    if (event.target.dataset.way === "close") { desk.say({ do: "close" }); return; }
    at("left").textContent = "Working ...";
    desk.say({ do: "send", way: event.target.dataset.way, typed: desk.typed(event.target) });
  });

  document.addEventListener("input", function (event) {
    var input = event.target;
    if (input.id === "search") {
      desk.soon(function () { desk.say({ do: "search", text: input.value }); }, 200);
      return;
    }
    if (input.classList.contains("put-name")) return putName(input);
    if (input.classList.contains("chip-input") && known(input.value)) { desk.addChip(input); }
    if (input.name === "which-rules") whichRules(input);
    if (input.id === "rest") at("rest-code").hidden = input.value !== "code";
    desk.freeLine(input);
    if (input.closest(".case")) desk.numberCase(input.closest(".case"));
    var rules = input.closest(".rules");
    if (rules && !input.closest(".label-lines")) desk.labelLines(rules);
    if (input.closest("#form") && input.type !== "file") fill();
  });
  document.addEventListener("change", function (event) {
    if (event.target.type === "file") desk.readFile(event.target, function () { fill(true); });
  });
  function known(name) {
    return Array.prototype.some.call(at("variable-names").options, function (option) { return option.value === name; });
  }
  function putName(input) {
    if (!known(input.value)) return;
    var into = at(input.dataset.into);
    var name = /^[A-Za-z.][A-Za-z0-9._]*$/.test(input.value) ? input.value : "`" + input.value.replace(/[\\`]/g, "\\$&") + "`";
    into.setRangeText(name, into.selectionStart, into.selectionEnd, "end");
    input.value = "";
    into.focus();
    fill();
  }
  function whichRules(radio) {
    var rules = radio.closest(".rules");
    rules.querySelector(".by-value").hidden = radio.value === "case";
    rules.querySelector(".by-case").hidden = radio.value !== "case";
  }

  document.addEventListener("keydown", function (event) {
    var target = event.target;
    if (target.id === "pane-variables") return listKey(event);
    if (target.getAttribute("role") === "tab") return tabKey(event);
    var form = target.closest("#form");
    if (event.key === "Enter" && event.ctrlKey && at("form")) { event.preventDefault(); keep(); return; }
    if (event.key === "Escape" && form) { desk.say({ do: "leave", keep: true }); return; }
    if (form && target.tagName === "INPUT" && event.key === "Enter") {
      event.preventDefault();
      if (target.classList.contains("chip-input")) { desk.addChip(target); }
      if (target.classList.contains("becomes")) step(target, 1); else fill(true);
    }
    if (form && target.classList.contains("becomes") && event.key === "ArrowDown") { event.preventDefault(); step(target, 1); }
    if (form && target.classList.contains("becomes") && event.key === "ArrowUp") { event.preventDefault(); step(target, -1); }
    if (event.key === "Enter" && (target.id === "row" || target.id === "rename-to")) { event.preventDefault(); desk.say(said(target.parentNode.querySelector("button"))); }
    if (event.key === "Enter" && target.classList.contains("reason")) { event.preventDefault(); accept(target.closest(".accept")); }
  });
  // Down or up in the column of what values become.
  function step(input, by) {
    var list = all(input.closest(".rules"), ".becomes").filter(function (one) { return one.offsetParent; });
    var next = list[list.indexOf(input) + by];
    if (next) { next.focus(); next.select(); }
  }
  function tabKey(event) {
    var list = all(document, "[role='tab']");
    var by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!by) return;
    var next = list[(list.indexOf(event.target) + by + list.length) % list.length];
    next.focus();
    tab(next);
  }

  // What depends on the step that one points at.
  function pointed(event) {
    var card = event.target.closest && event.target.closest(".card");
    all(document, ".card.depends").forEach(function (one) { one.classList.remove("depends"); });
    if (!card) return;
    var users = JSON.parse(card.dataset.users || "[]");
    all(document, ".card").forEach(function (one) {
      var makes = JSON.parse(one.dataset.makes || "[]");
      if (one !== card && makes.some(function (name) { return users.indexOf(name) >= 0; })) one.classList.add("depends");
    });
  }
  document.addEventListener("mouseover", pointed);
  document.addEventListener("focusin", pointed);

  function listen() {
    Shiny.addCustomMessageHandler("desk", function (messages) {
      messages.forEach(function (told) { acts[told.do](told); });
    });
    window.jQuery(document).on("shiny:connected", function () { desk.say({ do: "hello" }); });
    window.jQuery(document).on("shiny:disconnected", function () {
      if (at("desk") && at("desk").getAttribute("data-state") === "closed") return;
      desk.forget();
      if (at("trouble")) lost();
    });
  }
  if (window.Shiny) listen(); else document.addEventListener("DOMContentLoaded", listen);
})(window.desk);
