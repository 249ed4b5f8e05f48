import { expect, test } from "vitest";
import { faultOf, type RowTypes } from "./rowTypes";

const COLUMNS: RowTypes[string] = {
  id: { types: ["number"] },
  status: { types: ["string"], words: ["draft", "posted"] },
  due: { types: ["string", "null"] },
  note: { types: ["string"], optional: true },
};
const ROW = { id: 1, status: "draft", due: null };

test("a row is what it is said to be, or the first difference is named", () => {
  expect(faultOf(ROW, COLUMNS)).toBeNull();
  expect(faultOf({ ...ROW, id: 1n }, COLUMNS)).toBe("has id: bigint, said to be number");
  expect(faultOf({ ...ROW, status: "gone" }, COLUMNS)).toMatch(/has status: "gone"/);
  expect(faultOf({ ...ROW, status: null }, COLUMNS)).toMatch(/has status: null/);
  expect(faultOf({ id: 1, status: "draft" }, COLUMNS)).toBe("has no due");
});
