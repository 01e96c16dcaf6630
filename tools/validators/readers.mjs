// Reads what make.R wrote by libraries for JavaScript, and compares it with expected.json.
// Use: node readers.mjs FOLDER SCHEMA
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Ajv } from "ajv";
import { parquetReadObjects } from "hyparquet";
import yaml from "js-yaml";

const [folder, schemaFile] = process.argv.slice(2);
const expected = JSON.parse(readFileSync(join(folder, "expected.json"), "utf8"));

function tell(file, reader, problems, what) {
  const said = problems.length ? problems.slice(0, 3).join("; ") : what;
  console.log([problems.length ? "FAILED" : "ok", file, reader, said].join("\t"));
}

function same(given, value, type) {
  if (value === null) return given === null || given === undefined;
  if (given === null || given === undefined) return false;
  if (type === "number") return Number(given) === Number(value);
  if (type === "date" && given instanceof Date) return given.toISOString().slice(0, 10) === value;
  if (type === "truth") return String(given).toUpperCase() === value;
  return String(given) === value;
}

function compare(file, reader, rows) {
  const problems = [];
  for (const { name, type, values } of expected.columns) {
    if (rows.length !== values.length) problems.push(`${rows.length} rows`);
    const off = values.findIndex((value, i) => !same(rows[i]?.[name], value, type));
    if (off >= 0) problems.push(`${name}, row ${off + 1}: ${rows[off]?.[name]}, not ${values[off]}`);
  }
  const count = expected.columns.length;
  tell(file, reader, problems, `${count} columns, ${count * rows.length} values`);
}

const bytes = readFileSync(join(folder, "table.parquet"));
const file = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength);
compare("table.parquet", "hyparquet (JavaScript)", await parquetReadObjects({ file }));
const lines = readFileSync(join(folder, "table.jsonl"), "utf8").trimEnd().split("\n");
compare("table.jsonl", "JSON (JavaScript)", lines.map((line) => JSON.parse(line)));

// A turn sheet is valid by its schema, and one with a key of another name is not.
const schema = JSON.parse(readFileSync(schemaFile, "utf8"));
const ajv = new Ajv({ strict: false, allErrors: true });
const problems = ajv.validateSchema(schema) ? [] : [ajv.errorsText()];
const check = ajv.compile(schema);
const sheet = yaml.load(readFileSync(join(folder, "package", "turns.yaml"), "utf8"));
if (!check(sheet)) problems.push(ajv.errorsText(check.errors));
sheet.turns[0].revers = "x";
if (check(sheet)) problems.push("a turn with an unknown key is valid");
tell("package/turns.yaml", "ajv (JavaScript)", problems,
  `${sheet.turns.length} turns are valid; an unknown key is not`);
