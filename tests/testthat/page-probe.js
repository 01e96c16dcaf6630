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
  // A phone: the same page in a frame of 400 pixels.
  var frame = document.createElement("iframe");
  frame.style.width = "400px";
  frame.style.border = "0";
  frame.onload = function () {
    told.phone = frame.contentDocument.documentElement.scrollWidth;
    tell(told);
  };
  frame.srcdoc = "<!DOCTYPE html>" + document.documentElement.outerHTML.replace(/<script[\s\S]*?<\/script>/g, "");
  document.body.appendChild(frame);
});

function tell(told) {
  var out = document.createElement("output");
  out.id = "probe";
  out.textContent = JSON.stringify(told);
  document.body.appendChild(out);
}
