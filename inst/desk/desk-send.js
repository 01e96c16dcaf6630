// What the page says to R: one thing at a time, the newest of its kind. What an analyst does goes
// before what is only drawn or counted, so that nobody waits for a picture.
window.desk = {};
(function (desk) {
  var asked = 0;
  var open = null;
  var waiting = [];
  var replaced = { fill: ["fill", "picture"], search: ["search"] };
  var late = ["picture", "measure", "more"];

  desk.say = function (event) {
    var gone = replaced[event.do] || [];
    waiting = waiting.filter(function (other) {
      return gone.indexOf(other.do) < 0 || other.of === "look";
    });
    waiting.push(event);
    next();
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
    var busy = open !== null || waiting.length > 0;
    var page = document.getElementById("desk");
    if (page) page.setAttribute("data-state", busy ? "busy" : "idle");
  }
})(window.desk);
