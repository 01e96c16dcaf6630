// Writes a table to Parquet by libraries for JavaScript, with a column whose values are places in a
// dictionary. Use: node writers.mjs FOLDER
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { Dictionary, Int32, Table, Utf8, tableToIPC, vectorFromArray } from "apache-arrow";
import * as parquet from "parquet-wasm/node";

const table = new Table({
  ticket: vectorFromArray(["Single", "Return", null, "Single"], new Dictionary(new Utf8(), new Int32())),
  cost: vectorFromArray([1.5, 0.1, null, 1234.5]),
  said: vectorFromArray(["\u00e9t\u00e9", "=1+1", null, ""], new Utf8()),
});
const bytes = parquet.writeParquet(parquet.Table.fromIPCStream(tableToIPC(table, "stream")));
writeFileSync(join(process.argv[2], "dictionary.parquet"), bytes);
