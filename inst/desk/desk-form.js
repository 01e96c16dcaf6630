// Forms: what was typed, as R takes it, and the small help while it is typed.
(function (desk) {
  var files = {};

  function all(box, selector) { return Array.prototype.slice.call(box.querySelectorAll(selector)); }
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
    flag: function (box) { return box.querySelector("input").checked; },
    names: function (box) {
      var names = all(box, ".chip").map(function (chip) { return chip.dataset.name; });
      var rest = value(box, ".chip-input").trim();
      return rest ? names.concat(rest) : names;
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

  desk.fieldError = function (field, lines) {
    var place = field && field.querySelector(".field-error");
    if (!place) return;
    place.textContent = (lines || []).join(" ");
    all(field, "input, select, textarea").forEach(function (input) {
      if (lines) input.setAttribute("aria-invalid", "true");
      else input.removeAttribute("aria-invalid");
    });
    var folded = field.closest("details");
    if (lines && folded) folded.open = true;
  };

  // One line stays free below those that are filled in.
  desk.freeLine = function (input) {
    var line = input.closest(".line.range, .lines > .line, tr.case");
    if (!line || !input.value || line.nextElementSibling) return;
    var fresh = line.cloneNode(true);
    all(fresh, "input").forEach(function (copy) { copy.value = ""; copy.removeAttribute("value"); });
    line.parentNode.appendChild(fresh);
  };

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
    all(fresh, "input").forEach(function (copy) { copy.value = ""; copy.removeAttribute("value"); });
    lines.appendChild(fresh);
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
    input.value = "";
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
