// Drives a real browser for the tests of the desk: a command on each line of the input, as JSON, and
// an answer on each line of the output. `at` is a selector; every command waits until the desk is idle.
import { chromium } from "playwright-core";
import { createInterface } from "node:readline";
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";

const axe = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
const browser = await chromium.launch({ executablePath: process.argv[2], args: ["--no-sandbox"] });
const pages = {};
let page = null;
const moment = 50; // until what comes into sight has been noticed
let heard = { errors: [], requests: [], denied: [] };

// The server's own library tries once to run a text as code, and is refused, as it should be.
const expected = (m) => m.location().url.includes("/shiny-javascript-") &&
  m.text().startsWith("Evaluating a string as JavaScript violates");

function listen(page) {
  page.on("console", (m) => { if (m.type() === "error" && !expected(m)) heard.errors.push(m.text()); });
  page.on("pageerror", (e) => heard.errors.push(String(e)));
  page.on("request", (r) => heard.requests.push(r.url()));
  page.on("dialog", (d) => d.accept());
}

// Asked from outside, as the page itself may not run texts as code.
async function until(what, seconds) {
  const end = Date.now() + 1000 * seconds;
  // a page that goes on to another cannot be asked for a moment
  const asked = () => page.evaluate(what).catch((e) => {
    if (!String(e).includes("navigation")) throw e;
    return false;
  });
  while (!(await asked())) {
    if (Date.now() > end) throw new Error("waited in vain");
    await page.waitForTimeout(25);
  }
}

const idle = () => until(() => {
  const desk = document.getElementById("desk");
  return !desk || ["idle", "closed"].includes(desk.dataset.state);
}, 30);

const acts = {
  async open({ name = "main", url, width = 1280, height = 800, dark = false, fresh = false }) {
    const context = fresh || !page ? await browser.newContext({ viewport: { width, height },
      colorScheme: dark ? "dark" : "light" }) : page.context();
    page = pages[name] = await context.newPage();
    page.setDefaultTimeout(8000);
    listen(page);
    const answer = await page.goto(url);
    return answer.status();
  },
  async turnto({ name }) { page = pages[name]; await page.bringToFront(); },
  async size({ width, height }) { await page.setViewportSize({ width, height }); },
  async dark({ on }) { await page.emulateMedia({ colorScheme: on ? "dark" : "light" }); },
  async click({ at, keys = [] }) { await page.locator(at).first().click({ modifiers: keys }); },
  async type({ at, text }) {
    await page.locator(at).first().fill(text);
    await page.waitForTimeout(moment);
  },
  async pick({ at, value }) { await page.locator(at).first().selectOption(value); await page.waitForTimeout(moment); },
  async check({ at }) { await page.locator(at).first().check(); await page.waitForTimeout(moment); },
  async file({ at, path }) { await page.locator(at).first().setInputFiles(path); await page.waitForTimeout(moment); },
  // Tab only goes to the next place, nothing is asked of the desk.
  async key({ key, times = 1 }) {
    for (let i = 0; i < times; i += 1) await page.keyboard.press(key);
    if (key !== "Tab") await page.waitForTimeout(moment);
  },
  async write({ text }) { await page.keyboard.type(text); await page.waitForTimeout(moment); },
  async text({ at }) { return (await page.locator(at).allInnerTexts()).join("\n"); },
  async count({ at }) { return page.locator(at).count(); },
  async ask({ code }) { return page.evaluate(code); },
  async until({ code }) { await until(code, 20); },
  async reload() { await page.reload(); await page.waitForTimeout(moment); },
  async shot({ path, whole = false }) { await page.screenshot({ path, fullPage: whole }); },
  async heard() { const told = heard; heard = { errors: [], requests: [] }; return told; },
  // What a checker of accessibility finds; by `colours` alone where only these are other than before.
  async axe({ colours = false }) {
    if (!(await page.evaluate("Boolean(window.axe)"))) await page.evaluate(axe + ";0");
    return page.evaluate(async (colours) => {
      const all = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"];
      const found = await axe.run(document, { runOnly: colours ? ["color-contrast"] : all });
      return found.violations.map((v) => v.id + ": " + v.nodes.map((n) => n.target.join(" ") + " " + n.failureSummary).slice(0, 3).join(" | "));
    }, colours);
  },
  async close() { await page.close(); }
};

for await (const line of createInterface({ input: process.stdin })) {
  const command = JSON.parse(line);
  try {
    const value = await acts[command.do](command);
    if (page && !page.isClosed()) await idle();
    console.log(JSON.stringify({ value: value ?? null }));
  } catch (error) {
    console.log(JSON.stringify({ failed: String(error).slice(0, 900) }));
  }
}
await browser.close();
