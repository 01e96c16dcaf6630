// What the page says to R: one thing at a time, the newest of its kind. What an analyst does goes
// before what is only drawn or counted, so that nobody waits for a picture.
// `desk.acts`: what R may ask the page to do, by name; each file adds its own.
window.desk = { acts: {} };
(function (desk) {
  desk.at = function (id) { return document.getElementById(id); };
  desk.all = function (box, selector) {
    return box ? Array.prototype.slice.call(box.querySelectorAll(selector)) : [];
  };
  var asked = 0;
  var open = null;
  var waiting = [];
  var typing = null;
  var replaced = { fill: ["fill", "picture"], list: ["list"], find: ["find"], grid: ["grid"], values: ["values"],
    calls: ["calls"], stale: ["stale"] };
  var late = ["picture", "measure", "more", "stale", "calls"];

  desk.say = function (event) {
    var gone = replaced[event.do] || [];
    waiting = waiting.filter(function (other) {
      return gone.indexOf(other.do) < 0 || other.of === "look";
    });
    waiting.push(event);
    next();
  };

  // Does what is to be done when nobody has typed for a moment; what is typed meanwhile puts it off.
  desk.soon = function (act, pause) {
    window.clearTimeout(typing);
    typing = window.setTimeout(function () {
      typing = null;
      act();
      tellState();
    }, pause);
    tellState();
  };

  // Does it now, and nothing any more that was put off.
  desk.now = function (act) {
    window.clearTimeout(typing);
    typing = null;
    act();
  };

  // R has answered what was said with this number.
  desk.answered = function (number) {
    if (number === open) open = null;
    next();
  };

  // Whatever R was asked, it will not answer any more.
  desk.forget = function () {
    open = null;
    waiting = [];
    tellState();
  };

  function next() {
    if (open === null && waiting.length && window.Shiny && Shiny.setInputValue) {
      var first = waiting.findIndex(function (event) { return late.indexOf(event.do) < 0; });
      var event = waiting.splice(Math.max(first, 0), 1)[0];
      asked += 1;
      open = event.n = asked;
      Shiny.setInputValue("said", JSON.stringify(event), { priority: "event" });
    }
    tellState();
  }

  function tellState() {
    var busy = open !== null || typing !== null || waiting.length > 0;
    var page = document.getElementById("desk");
    if (page) page.setAttribute("data-state", busy ? "busy" : "idle");
  }
})(window.desk);
