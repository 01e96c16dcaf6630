// The page: what R sends is put into its panes; what is done on it is said to R.
(function (desk) {
  var at = desk.at, all = desk.all;
  var calls = ""; // the work so far as calls of R, with how many steps
  var told_steps = 0;
  var worked = 0;

  // What R asks the page to do.
  Object.assign(desk.acts, {
    pane: function (told) {
      var pane = at("pane-" + told.pane);
      var focus = focusIn(pane);
      var old = told.pane === "trial" && pane.querySelector("svg");
      pane.innerHTML = told.html;
      var place = old && pane.querySelector(".picture");
      if (place) { place.appendChild(old); place.classList.add("old"); }
      if (told.pane === "form") opened(pane);
      if (told.pane === "trial") {
        at("desk").classList.toggle("forming", told.html !== "");
        picturesAgain();
      }
      desk.watch(pane);
      if (told.pane === "variables") desk.numberRows();
      if (told.pane === "tab") desk.gridOpened();
      if (told.pane === "tab" || told.pane === "form") desk.picksIn(pane);
      focusAgain(pane, focus);
    },
    measured: function (told) {
      all(at("pane-variables"), "[role='option']").forEach(function (row) {
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
    key: function (told) { desk.fillKey(told); },
    chosen: function (told) {
      var same = desk.picked.join("\n") === told.names.join("\n");
      desk.mark(told.names);
      at("now-title").textContent = told.title;
      if (!same) { desk.gridAgain(); desk.showChosen(); }
    },
    tried: function (told) {
      var form = at("form");
      if (!form) return;
      desk.soFar(told.becomes);
      desk.readBack(form, told.read || {});
      if (at("f-as")) at("f-as").placeholder = told.makes && told.makes.length === 1 ? told.makes[0] : "";
      all(form, "[data-field]").forEach(function (box) { desk.fieldError(box, null); });
      if (told.error) desk.fieldError(form.querySelector("[data-field='" + told.argument + "']"),
        told.error, told.wanted);
    },
    after: function (told) {
      if (told.failed) return;
      if (told.focus && focusField(told.focus)) return;
      if (["ask", "amend", "again", "template", "redefine", "define_then", "make_of"].indexOf(told.act) >= 0) focusForm();
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
      at("work").hidden = true;
      var form = at("leave-form");
      var place = form && at("dialog").open && (!told.way || form.dataset.way === told.way) ? at("left") : null;
      if (!place) return note(told);
      place.innerHTML = told.html;
      all(form, "[data-field]").forEach(function (box) { desk.fieldError(box, null); });
      var field = form.querySelector("[data-field='" + told.argument + "']");
      if (told.error && field) {
        desk.fieldError(field, told.error);
        place.textContent = "";
      }
    },
    // work beside the desk: what it is at, with a way to stop it
    working: function (told) {
      at("work").hidden = false;
      at("work-said").textContent = told.words;
      var form = at("leave-form");
      if (form && form.dataset.way === told.way) {
        at("left").textContent = "Under way. The desk can be used meanwhile: close this, it goes on. ";
        at("left").appendChild(at("work").querySelector("button").cloneNode(true));
      }
    },
    opened: function (told) {
      at("dialog").close();
      document.title = "Desk: " + told.title;
      document.querySelector(".top h1 .quiet").textContent = told.title;
      window.location.hash = "";
      focusOn(at("now-title"));
    },
    folder: function (told) { if (at("folder")) at("folder").outerHTML = told.html; },
    answered: function (told) { desk.answered(told.n); },
    // the calls are for a page that R has left: they are fetched when nothing else is to be done
    worked: function (told) {
      worked = told.steps;
      window.setTimeout(function () { desk.say({ do: "calls" }); }, 200);
    },
    calls: function (told) { calls = told.text; told_steps = told.steps; },
    stale: function (told) {
      if (told.tab === "rows") desk.gridAgain(); else desk.say({ do: "stale", tab: told.tab });
    },
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
  });

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
    if (calls && worked) {
      var copy = document.createElement("button");
      copy.type = "button";
      copy.className = "copy-calls";
      copy.textContent = "Copy the R calls" + (told_steps < worked ? " of " + told_steps + " steps" : "");
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

  // What ended while its dialogue was closed.
  function note(told) {
    at("trouble").innerHTML = told.html;
    var off = document.createElement("button");
    off.type = "button";
    off.textContent = "All right";
    off.addEventListener("click", function () { at("trouble").textContent = ""; });
    at("trouble").appendChild(off);
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
  // The field that an advice is about.
  function focusField(name) {
    var box = document.querySelector("#form [data-field='" + name + "']") || (name === "rest" ? at("rest") && at("rest").parentNode : null);
    if (!box) return false;
    for (var folded = box.closest("details"); folded; folded = folded.parentNode.closest("details")) folded.open = true;
    var input = box.querySelector("input:not([type='hidden']), select, textarea");
    box.scrollIntoView({ block: "center" });
    if (input) input.focus({ preventScroll: true });
    return true;
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
  desk.watch = function (pane) {
    all(pane, ".more").forEach(function (end) { seen.observe(end); });
    all(pane, "[role='option']").forEach(function (row) {
      if (!row.querySelector(".bar")) seen.observe(row);
    });
    all(pane, ".picture:not(:has(svg:only-child)), .picture.old").forEach(function (place) {
      if (place.dataset.name) askPicture(place);
    });
  };
  // Where the panes got another width.
  function picturesAgain() {
    window.setTimeout(function () {
      all(document, ".picture").forEach(function (place) {
        var drawn = Number(place.dataset.wide || 0);
        if (drawn && Math.abs(drawn - place.clientWidth) > 60) askPicture(place);
      });
    }, 60);
  }
  // Drawn for the room that there is, in the colours of the page.
  function askPicture(place) {
    var dark = window.matchMedia("(prefers-color-scheme: dark)").matches;
    place.dataset.wide = Math.round(place.clientWidth);
    desk.say({ do: "picture", of: place.dataset.picture, name: place.dataset.name, wide: Math.round(place.clientWidth), dark: dark });
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
    at("desk").classList.toggle("rows-wide", button.dataset.tab === "rows");
    picturesAgain();
    at("pane-tab").setAttribute("aria-labelledby", button.id);
    desk.say({ do: "tab", tab: button.dataset.tab });
  }

  document.addEventListener("click", function (event) {
    var button = event.target.closest("button");
    if (!button) return;
    if (button.dataset.tab) tab(button);
    else if (button.classList.contains("close-dialog")) at("dialog").close();
    else if (button.classList.contains("copy-calls")) copyCalls(button);
    else if (button.classList.contains("chip-off")) { button.parentNode.remove(); fill(); }
    else if (button.classList.contains("take-chosen")) {
      desk.picked.forEach(function (name) { desk.addChip(button.parentNode.querySelector("input"), name); });
    } else if (button.classList.contains("add-line")) desk.addLine(button);
    else if (button.classList.contains("accept-in-form")) desk.acceptLine(at("form"), button.dataset.finding);
    else if (button.classList.contains("accept-it")) accept(button.closest(".accept"));
    else if (button.classList.contains("word")) putWord(button);
    else if (button.classList.contains("to-folder")) toFolder(button);
    else if (button.classList.contains("to-file")) toFile(button.dataset.path);
    else if (button.classList.contains("recent-file")) recent(JSON.parse(button.dataset.given));
    else if (button.dataset.do) desk.say(said(button));
  });
  function accept(line) {
    var reason = line.querySelector(".reason");
    line.querySelector(".field-error").textContent = reason.value.trim() ? "" : "Give the reason.";
    if (!reason.value.trim()) { reason.focus(); return; }
    desk.say({ do: line.dataset.of === "data" ? "accept_data" : "accept", name: line.dataset.name,
      finding: line.dataset.finding, reason: reason.value });
  }
  function putWord(button) {
    var field = at(button.dataset.into);
    desk.putText(field, button.dataset.text);
    field.focus();
    if (field.closest("#form")) fill();
    desk.pickFrom(field.id);
  }
  // Files and folders go into the field of a path that had the cursor last.
  var pathField = null;
  document.addEventListener("focusin", function (event) {
    if (event.target.classList.contains("a-path")) pathField = event.target;
  });
  function thePath() {
    return pathField && document.contains(pathField) ? pathField : document.querySelector("#leave-form .a-path");
  }
  // A script for a database ends otherwise than one for R.
  function endingOf(dialect) {
    var path = at("f-path");
    var sql = dialect !== "base" && dialect !== "ableturn";
    path.value = path.value.replace(sql ? /\.R$/ : /\.sql$/, sql ? ".sql" : ".R");
  }
  function toFile(path) { thePath().value = path; thePath().focus(); }
  function toFolder(button) {
    var path = thePath();
    if (at("leave-form").dataset.way !== "open") {
      var name = path.value.split("/").pop();
      path.value = button.dataset.path ? button.dataset.path + "/" + name : name;
    }
    desk.say({ do: "folder", path: button.dataset.path });
  }
  function recent(given) {
    ["data", "codebook", "sheet", "id"].forEach(function (key) { if (at("f-" + key)) at("f-" + key).value = given[key] || ""; });
    at("f-data").focus();
  }

  document.addEventListener("submit", function (event) {
    event.preventDefault();
    if (event.target.id === "form") keep();
    if (event.target.id !== "leave-form") return;
    if (event.target.dataset.way === "close") { desk.say({ do: "close" }); return; }
    at("left").textContent = "Working. The desk waits until this is done ...";
    if (event.target.dataset.way === "open") { desk.say({ do: "open", typed: desk.typed(event.target) }); return; }
    desk.say({ do: "send", way: event.target.dataset.way, typed: desk.typed(event.target) });
  });

  document.addEventListener("input", function (event) {
    var input = event.target;
    if (input.classList.contains("put-name")) return putName(input, event.inputType);
    if (input.classList.contains("chip-input")) desk.chipsTyped(input, event.inputType);
    if (input.closest(".picks")) return;
    if (input.id === "answer-search") return findAnswer(input.value);
    if (input.classList.contains("key-line")) desk.keyTyped(input);
    if (input.name === "which-rules") whichRules(input);
    if (input.id === "rest") at("rest-code").hidden = input.value !== "code";
    desk.freeLine(input);
    if (input.closest(".case")) desk.numberCase(input.closest(".case"));
    var rules = input.closest(".rules");
    if (rules && !input.closest(".label-lines")) desk.labelLines(rules);
    if (input.closest("#form") && input.type !== "file") fill();
  });
  document.addEventListener("change", function (event) {
    if (event.target.type === "file") {
      if (event.target.classList.contains("key-file")) desk.readKey(event.target);
      else desk.readFile(event.target, function () { fill(true); });
    }
    if (event.target.id === "f-dialect") endingOf(event.target.value);
    if (event.target.classList.contains("chip-input") && event.target.closest("#form")) {
      desk.chipsTyped(event.target, "done");
      fill();
    }
  });
  function putName(input, how) {
    if (how !== "done" && how !== undefined && how !== "insertReplacementText") return;
    if (desk.known(input.value)) desk.putInto(input, input.value);
  }
  desk.fill = fill;
  // Answers to the question that hold all the words.
  function findAnswer(text) {
    var words = text.toLowerCase().split(/\s+/);
    all(at("pane-question"), ".answer").forEach(function (tile) {
      var told = tile.textContent.toLowerCase();
      tile.hidden = !words.every(function (word) { return told.indexOf(word) >= 0; });
    });
    all(at("pane-question"), ".answer-group").forEach(function (group) {
      group.hidden = all(group, ".answer").every(function (tile) { return tile.hidden; });
    });
  }
  function whichRules(radio) {
    var rules = radio.closest(".rules");
    rules.querySelector(".by-value").hidden = radio.value === "case";
    rules.querySelector(".by-case").hidden = radio.value !== "case";
  }

  document.addEventListener("keydown", function (event) {
    var target = event.target;
    if (target.id === "pane-variables") return desk.listKey(event);
    if (target.getAttribute("role") === "tab") return tabKey(event);
    var form = target.closest("#form");
    if (event.key === "Enter" && event.ctrlKey && at("form")) { event.preventDefault(); keep(); return; }
    if (event.key === "Escape" && form) { desk.say({ do: "leave", keep: true }); return; }
    if (form && target.tagName === "INPUT" && event.key === "Enter") {
      event.preventDefault();
      if (target.classList.contains("chip-input")) desk.chipsTyped(target, "done");
      if (target.classList.contains("put-name")) return putName(target, "done");
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

  function listen() {
    Shiny.addCustomMessageHandler("desk", function (messages) {
      messages.forEach(function (told) { desk.acts[told.do](told); });
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
