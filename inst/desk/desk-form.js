// Forms: what was typed, as R takes it, and the small help while it is typed.
(function (desk) {
  var files = {};

  var all = desk.all;
  function value(box, selector) {
    var input = box.querySelector(selector || "input, select, textarea");
    return input ? input.value : "";
  }
  function pairs(box) {
    return all(box, ".line").map(function (line) {
      return all(line, "input").map(function (input) { return input.value; });
    });
  }

  // By kind of field, where it is more than the text that stands in it.
  var typed = {
    condition: function (box) { return value(box, "textarea"); },
    flag: function (box) { return box.querySelector("input").checked; },
    names: function (box) {
      var names = all(box, ".chip").map(function (chip) { return chip.dataset.name; });
      var input = box.querySelector(".chip-input");
      var rest = input.value.trim();
      // a name that is still being typed is none yet
      var open = document.activeElement === input && !desk.known(rest) && desk.begins(rest);
      return rest && !open ? names.concat(rest.split(/[,;]\s*/).filter(Boolean)) : names;
    },
    named: function (box) {
      return all(box, "[data-name]").map(function (line) {
        return [line.dataset.name, value(line)];
      });
    },
    codes: function (box) {
      return all(box, "[data-code]").filter(function (line) {
        return value(line, "input:last-of-type").trim();
      }).map(function (line) {
        return [value(line, "input:last-of-type"), line.dataset.code || value(line, ".new-code")];
      });
    },
    reasons: pairs, accepts: pairs, pairs: pairs,
    table: function (box) {
      var sent = files[box.dataset.field];
      var path = value(box, ".path").trim();
      if (sent) return sent;
      if (path) return { path: path };
      return { kept: box.querySelector(".file").dataset.kept === "true", path: "" };
    },
    rules: function (box) {
      var cases = box.querySelector(".by-case");
      var by_case = cases && !cases.hidden;
      var rest = box.querySelector("#rest");
      return {
        values: by_case ? [] : all(box, "tr[data-value]").map(function (row) {
          return { value: row.dataset.value, kind: row.dataset.kind, becomes: value(row) };
        }),
        ranges: by_case ? [] : all(box, ".range").map(function (line) {
          return { when: value(line, ".when"), becomes: value(line, ".becomes") };
        }),
        cases: by_case ? all(box, ".case").map(function (row) {
          return { becomes: value(row, ".becomes"), where: all(row, ".when").map(function (input) {
            return [input.dataset.name, input.value];
          }) };
        }) : [],
        rest: { how: rest ? rest.value : "none", code: value(box, "#rest-code") },
        labels: all(box, ".label-lines p").map(function (line) {
          return [line.dataset.code, value(line)];
        })
      };
    }
  };

  desk.typed = function (form) {
    var out = {};
    all(form, "[data-field]").forEach(function (box) {
      out[box.dataset.field] = (typed[box.dataset.kind] || value)(box);
    });
    return out;
  };

  desk.forgetFiles = function () { files = {}; };

  // A file that was chosen is read here; larger ones than R would take are not even read.
  desk.readFile = function (input, done) {
    var file = input.files[0];
    var field = input.closest("[data-field]");
    delete files[field.dataset.field];
    if (!file) return done();
    if (file.size > 5e6) {
      desk.fieldError(field, ["This file is larger than 5 MB, which is too much for a table of codes.",
        "Keep the columns that are looked up, or type its path."]);
      return;
    }
    var reader = new FileReader();
    reader.onload = function () {
      files[field.dataset.field] = { name: file.name, bytes: reader.result.split(",")[1] || "" };
      done();
    };
    reader.readAsDataURL(file);
  };

  // What is wrong with a field, or (`wanted`) what is still to be filled in there.
  desk.fieldError = function (field, lines, wanted) {
    var place = field && field.querySelector(".field-error");
    if (!place) return;
    place.textContent = (lines || []).join(" ");
    place.classList.toggle("wanted", Boolean(wanted));
    all(field, "input, select, textarea").forEach(function (input) {
      if (lines && !wanted) input.setAttribute("aria-invalid", "true");
      else input.removeAttribute("aria-invalid");
    });
    var folded = field.closest("details");
    if (lines && folded) folded.open = true;
  };

  // What was typed, in our notation, where that is another.
  desk.readBack = function (form, read) {
    all(form, "[data-field]").forEach(function (box) {
      var told = read[box.dataset.field];
      var lines = all(box, ".read-as");
      if (box.dataset.kind === "rules" || box.dataset.kind === "reasons") {
        lines.forEach(function (line, i) { say(line, Array.isArray(told) ? told[i] : ""); });
      } else if (lines.length) say(lines[0], told);
    });
    function say(line, text) { line.textContent = text ? "read as " + text : ""; }
  };

  // The key of a test, typed in one line or from a file.
  desk.keyTyped = function (input) {
    var lines = all(input.closest("[data-field]"), "[data-name]");
    var parts = input.value.trim().split(/[\s,;]+/).filter(Boolean);
    if (parts.length === 1 && parts[0].length === lines.length) parts = parts[0].split("");
    lines.forEach(function (line, i) { if (parts[i] !== undefined) setAnswer(line, parts[i]); });
    input.closest("[data-field]").querySelector(".key-told").textContent =
      parts.length + " of " + lines.length + " answers";
  };
  function setAnswer(line, text) {
    var field = line.querySelector("select, input");
    if (field.tagName !== "SELECT") { field.value = text; return; }
    var found = all(field, "option").find(function (option) {
      return option.value.toLowerCase() === text.toLowerCase() || option.textContent.toLowerCase() === text.toLowerCase();
    });
    if (found) field.value = found.value;
  }
  desk.readKey = function (input) {
    if (!input.files[0]) return;
    var reader = new FileReader();
    reader.onload = function () {
      desk.say({ do: "key_file", name: input.files[0].name, bytes: reader.result.split(",")[1] || "" });
    };
    reader.readAsDataURL(input.files[0]);
  };
  desk.fillKey = function (told) {
    var box = document.querySelector("#form [data-field='key']");
    if (!box) return;
    if (told.error) { desk.fieldError(box, told.error); return; }
    told.pairs.forEach(function (pair) {
      var line = all(box, "[data-name]").find(function (one) { return one.dataset.name === pair[0]; });
      if (line) setAnswer(line, pair[1]);
    });
    desk.fill();
  };

  // One line stays free below those that are filled in.
  desk.freeLine = function (input) {
    var line = input.closest(".line.range, .lines > .line, tr.case");
    if (!line || !input.value || line.nextElementSibling) return;
    var fresh = line.cloneNode(true);
    emptied(fresh);
    line.parentNode.appendChild(fresh);
    numbered(line.parentNode);
  };
  function emptied(line) {
    all(line, "input").forEach(function (copy) { copy.value = ""; copy.removeAttribute("value"); });
    all(line, ".read-as").forEach(function (told) { told.textContent = ""; });
  }
  // Each line says to screen readers which one it is.
  function numbered(lines) {
    all(lines, ":scope > .line, :scope > .case").forEach(function (line, i) {
      all(line, "[aria-label]").forEach(function (input) {
        input.setAttribute("aria-label", input.getAttribute("aria-label").replace(/\d+( becomes)?$/, (i + 1) + "$1")
          .replace(/^Group \d+/, "Group " + (i + 1)));
      });
    });
  }

  // Groups are numbered as they are described, unless they were given a code.
  desk.numberCase = function (row) {
    var code = row.querySelector(".becomes");
    var described = all(row, ".when").some(function (input) { return input.value.trim(); });
    if (described && !code.value && !code.dataset.touched) {
      code.value = all(row.parentNode, ".case").indexOf(row) + 1;
    }
    code.dataset.touched = "true";
  };

  desk.addLine = function (button) {
    var lines = button.parentNode.querySelector(".lines");
    var fresh = lines.lastElementChild.cloneNode(true);
    emptied(fresh);
    lines.appendChild(fresh);
    numbered(lines);
    fresh.querySelector("input").focus();
  };

  // For each new code that was typed a place for its label.
  desk.labelLines = function (rules) {
    var place = rules.querySelector(".label-lines");
    if (!place) return;
    var known = {};
    JSON.parse(rules.querySelector(".labels").dataset.labels || "[]").forEach(function (pair) {
      known["c" + pair[0]] = pair[1];
    });
    all(place, "p").forEach(function (line) { known["c" + line.dataset.code] = value(line); });
    var codes = [];
    all(rules, ".becomes").forEach(function (input) {
      var code = input.value.trim();
      var shown = !input.closest("[hidden]") && !input.hidden;
      if (shown && code && codes.indexOf(code) < 0) codes.push(code);
    });
    var there = all(place, "p").map(function (line) { return line.dataset.code; });
    if (there.join("\n") === codes.join("\n")) return;
    place.textContent = "";
    codes.forEach(function (code, i) {
      var line = document.createElement("p");
      var label = document.createElement("label");
      var input = document.createElement("input");
      line.className = "inline";
      line.dataset.code = code;
      label.textContent = code === "." ? "missing, as" : code;
      label.htmlFor = input.id = "new-label-" + i;
      input.type = "text";
      input.value = known["c" + code] || "";
      line.appendChild(label);
      line.appendChild(input);
      place.appendChild(line);
    });
    rules.querySelector(".labels").hidden = !codes.length;
  };

  // Names become names on a comma, a blank that no name has there, Enter, a choice or on leaving.
  desk.chipsTyped = function (input, how) {
    var text = input.value;
    var chosen = how === undefined || how === "insertReplacementText";
    var whole = how === "done" || chosen && desk.known(text.trim());
    var parts = text.split(/[,;\n]+/);
    var rest = whole ? "" : parts.pop();
    var left = [];
    if (rest && / $/.test(rest) && desk.known(rest.trim()) && !desk.begins(rest)) { parts.push(rest); rest = ""; }
    parts.forEach(function (part) { left = left.concat(chipsOf(input, part.trim())); });
    if (whole || left.length || rest !== text) input.value = left.concat(rest.trim() ? rest.replace(/^ +/, "") : []).join(", ");
  };
  // What is no name, nor several parted by blanks, stays as it is typed.
  function chipsOf(input, text) {
    if (!text) return [];
    var names = desk.known(text) ? [text] : text.split(/\s+/);
    if (!names.every(desk.known)) return [text];
    names.forEach(function (name) { desk.addChip(input, name); });
    return [];
  }

  // A variable put into a field: a name more, the name, or a piece of the formula.
  desk.putInto = function (field, name) {
    if (field.classList.contains("chip-input")) desk.addChip(field, name);
    else if (field.classList.contains("put-name")) {
      field.value = "";
      return desk.putInto(desk.at(field.dataset.into), name);
    } else if (field.tagName === "TEXTAREA") {
      desk.putText(field, desk.inFormula(name));
    } else field.value = name;
    field.focus();
    field.dispatchEvent(new Event("change", { bubbles: true }));
    desk.fill();
  };
  desk.putText = function (field, text) {
    field.setRangeText(text, field.selectionStart, field.selectionEnd, "end");
  };

  desk.addChip = function (input, other) {
    var name = other || input.value.trim();
    if (!name) return false;
    var chip = document.createElement("span");
    var off = document.createElement("button");
    chip.className = "chip";
    chip.dataset.name = name;
    chip.textContent = name;
    off.type = "button";
    off.className = "chip-off";
    off.setAttribute("aria-label", "Without " + name);
    off.textContent = "\u00d7";
    chip.appendChild(off);
    input.parentNode.insertBefore(chip, input);
    if (!other) input.value = "";
    return true;
  };

  // A finding accepted in the form: a line of its own, where its reason is typed.
  desk.acceptLine = function (form, id) {
    var box = form.querySelector("[data-field='accept']");
    if (!box) return;
    var lines = box.querySelector(".lines");
    var line = all(lines, ".line").find(function (one) { return value(one) === id; });
    if (!line) {
      line = document.createElement("div");
      line.className = "line";
      [id, ""].forEach(function (text, i) {
        var input = document.createElement("input");
        input.type = "text";
        input.value = text;
        input.readOnly = i === 0;
        input.placeholder = i ? lines.dataset.second : lines.dataset.first;
        input.setAttribute("aria-label", (i ? lines.dataset.second : lines.dataset.first) + " " + id);
        line.appendChild(input);
      });
      lines.appendChild(line);
    }
    var folded = box.closest("details");
    if (folded) folded.open = true;
    line.querySelector("input:last-child").focus();
  };

  // What each value becomes so far, as R has worked it out.
  desk.soFar = function (told) {
    all(document, ".rules tr[data-value]").forEach(function (row) {
      var found = (told || []).find(function (one) {
        return one.value === row.dataset.value && one.missing === (row.dataset.kind === "missing");
      });
      var cell = row.querySelector(".now");
      cell.textContent = found ? found.words : "";
      row.classList.toggle("lost", Boolean(found && found.lost));
    });
  };
})(window.desk);
