import { expect, test } from "vitest";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { takeBackFile } from "../banks";
import { listReasons, reasonRules, saveReason, saveReasonRules } from "./index";

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

test("a reason is wanted in any words, from the list, or not at all, as the rule of its place says; others keep theirs", async () => {
  must(await saveReason(await root(), { text: "Wrong account", places: ["statements"] }));
  // A file that is not there: whether the reason stands against it, or only that.
  const takeBack = async (reason: string) =>
    codes(await takeBackFile(await callerOf(w.database, "treasury"), { id: 99, reason }));
  const said = async () => [
    await takeBack(""),
    await takeBack("no"),
    await takeBack("in other words"),
    await takeBack("WRONG account "),
  ];
  const [gone, unsaid] = [["NOT_FOUND"], ["REASON_REQUIRED"]];
  expect(await said()).toEqual([unsaid, unsaid, gone, gone]);
  const payables = await callerOf(w.database, "payables");
  expect(codes(await saveReasonRules(payables, { statements: "optional" }))).toEqual(["FORBIDDEN"]);
  must(await saveReasonRules(await root(), { statements: "listed" }));
  expect(await said()).toEqual([["INVALID"], ["INVALID"], ["INVALID"], gone]);
  must(await saveReasonRules(await root(), { statements: "optional" }));
  expect(await said()).toEqual([gone, unsaid, gone, gone]);
  expect(must(await reasonRules(payables, {}))).toMatchObject({
    statements: "optional",
    runs: "any",
  });
  expect(codes(await saveReasonRules(await root(), { writeOffs: "optional" }))).toEqual([
    "INVALID",
  ]);
});
