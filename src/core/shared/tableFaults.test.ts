import { expect, test } from "vitest";
import { object, number, string, array } from "yup";
import { atCell, atRow, describeFound, parse } from "./index";

const schema = object({
  days: number().typeError("Days are a whole number"),
  name: string().required("A name is needed"),
  blocks: array(string().oneOf(["orders"], "Only orders can be blocked").required()),
});

test("each fault of a row is said once, with its row and its column", () => {
  const read = parse(schema, { days: "soon", name: "", blocks: ["orders", "all"] });
  const said = read.ok ? [] : read.problems.map((p) => atCell(7, p));
  expect(said.map(describeFound).sort()).toEqual([
    "Row 7, blocks: Only orders can be blocked.",
    "Row 7, days: Days are a whole number.",
    "Row 7, name: A name is needed.",
  ]);
  expect(said.map((s) => s.field).sort()).toEqual(["blocks", "days", "name"]);
});

test("a problem of a use case keeps its words and its field, and no line besides", () => {
  const problem = atRow(3, { code: "PARTNER_UNKNOWN", partner: "X", field: "partner", line: 2 });
  expect(describeFound(problem)).toMatch(/^Row 3: .*X/);
  expect(problem).toMatchObject({ field: "partner" });
  expect(problem).not.toHaveProperty("line");
});
