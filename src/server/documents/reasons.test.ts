import { expect, test } from "vitest";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { listReasons, saveReason } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const places = ["payments", "cheques"];

test("a reason is kept once, for the places where it is offered, and changed by whoever saw it last", async () => {
  const { id } = must(await saveReason(await root(), { text: "Paid twice by mistake", places }));
  expect(codes(await saveReason(await root(), { text: "paid TWICE by mistake", places }))).toEqual([
    "EXISTS",
  ]);
  const [kept] = must(await listReasons(await callerOf(w.database, "payables"), {}));
  expect(kept).toMatchObject({ id, places, blocked: false });
  const change = { id, text: "Paid twice", places, blocked: true };
  expect(codes(await saveReason(await root(), change))).toEqual(["STALE"]);
  must(await saveReason(await root(), { ...change, version: kept!.version }));
  expect(must(await listReasons(await root(), {}))).toMatchObject([{ blocked: true }]);
});

test.each([
  ["too short", { text: "no", places }, "INVALID"],
  ["offered nowhere", { text: "Wrong account", places: [] }, "INVALID"],
  ["offered where nothing is", { text: "Wrong account", places: ["moon"] }, "INVALID"],
  ["none of that id", { id: 99, text: "Wrong account", places }, "NOT_FOUND"],
])("refused: %s", async (_name, input, code) => {
  expect(codes(await saveReason(await root(), input))).toEqual([code]);
});
