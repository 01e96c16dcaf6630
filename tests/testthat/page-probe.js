// Tries the report's search and links and measures it; the outcome goes into an element of its own.
window.addEventListener("load", function () {
  var box = document.getElementById("search");
  function shown(words) {
    box.value = words;
    box.dispatchEvent(new Event("input"));
    return Array.prototype.filter.call(document.querySelectorAll("section.variable"), function (part) {
      return getComputedStyle(part).display !== "none";
    }).length;
  }
  var told = { all: shown(""), island: shown("island"), strain_within: shown("strain standardize"), none: shown("zebra") };
  told.status = document.getElementById("found").textContent === "0 found";
  told.again = shown("");
  told.deadlinks = Array.prototype.filter.call(document.querySelectorAll("a[href^='#']"), function (link) {
    return !document.getElementById(link.getAttribute("href").slice(1));
  }).map(function (link) { return link.getAttribute("href"); });
  told.requests = performance.getEntriesByType("resource").length;
  told.errors = window.wrong;
  document.querySelectorAll("details").forEach(function (part) { part.open = true; });
  told.window = document.documentElement.clientWidth;
  told.scroll = document.documentElement.scrollWidth;
  document.body.style.width = "400px";
  told.phone = Math.max.apply(null, Array.prototype.map.call(document.body.querySelectorAll("header, main, section, figure, ul, p, h1, h2, h3"),
    function (part) { return Math.ceil(part.getBoundingClientRect().width); }));
  document.body.style.width = "";
  var out = document.createElement("output");
  out.id = "probe";
  out.textContent = JSON.stringify(told);
  document.body.appendChild(out);
});
