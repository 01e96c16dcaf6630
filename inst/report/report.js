// The search leaves those variables whose names, labels or sources hold all the words.
(function () {
  var box = document.getElementById("search");
  var told = document.getElementById("found");
  var parts = Array.prototype.slice.call(document.querySelectorAll("[data-search]"));
  box.addEventListener("input", function () {
    var words = box.value.toLowerCase().split(/\s+/).filter(Boolean);
    var left = 0;
    parts.forEach(function (part) {
      var text = part.getAttribute("data-search");
      part.hidden = !words.every(function (word) { return text.indexOf(word) >= 0; });
      if (!part.hidden && part.tagName === "SECTION") left += 1;
    });
    told.textContent = words.length ? left + " found" : "";
  });
  // On paper nothing is folded away.
  window.addEventListener("beforeprint", function () {
    document.querySelectorAll("details").forEach(function (part) { part.open = true; });
  });
})();
