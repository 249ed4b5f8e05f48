import path from "node:path";
import { inject } from "vitest";
import { watchRows } from "../src/server/db/database";
import { faultOf } from "./rowTypes";

// Every row that a statement answers in a test is what the sources say that it is.
const types = inject("rowTypes");
const root = path.resolve(import.meta.dirname, "..");
const PLACE = /(src\/server\/[\w/.-]+\.ts):(\d+):\d+/;

watchRows((asked, rows) => {
  if (rows.length === 0) return;
  // The first line of the stack is `rows` itself, the second whoever asked.
  const [, file, line] = PLACE.exec(asked.stack!.split("\n")[2] ?? "") ?? [];
  const columns = types[`${file}:${line}`];
  if (!columns) return;
  for (const row of rows) {
    const fault = faultOf(row, columns);
    if (fault) throw new Error(`${path.join(root, file!)}:${line}: a row ${fault}`);
  }
});
