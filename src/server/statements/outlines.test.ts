import { expect, test } from "vitest";
import { callerOf, codes, must, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { createJournal } from "../ledger";
import { discardOutline, outlines, putOutlineToUse, saveOutlineLine, statement } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const CODE = "income-statement";
const view = async () => must(await outlines(await root(), {})).find((o) => o.code === CODE)!;
const change = async (line: object) =>
  must(
    await saveOutlineLine(await root(), {
      outline: CODE,
      version: (await view()).version,
      ...line,
    }),
  );
const quay = (ranges: string, label = "Quays") => ({
  code: "quay-maintenance",
  label,
  level: 1,
  kind: "accounts",
  ranges,
});
const shown = async () => {
  const s = must(await statement(await root(), { company: "ALP", period: "2026-10", code: CODE }));
  const line = s.lines.find((l) => l.code === "quay-maintenance")!;
  return [line.label, line.values[0]];
};

test("a changed outline is a draft until it is used; one that leaves an account out is not used; a draft can be dropped", async () => {
  must(await createJournal(await callerOf(w.database, "accountant"), { ...written(), post: true }));
  const before = await shown();
  await change(quay("6300-6309"));
  expect(await view()).toMatchObject({ version: 2, draft: true, used: 1 });
  expect((await view()).uncaught.some((a) => a.startsWith("6310"))).toBe(true);
  expect(await shown()).toEqual(before);
  const wrong = { outline: CODE, version: 2 };
  expect(codes(await putOutlineToUse(await root(), wrong))).toEqual(["INVALID"]);
  await change(quay("6300-6399"));
  expect(codes(await putOutlineToUse(await root(), wrong))).toEqual(["STALE"]);
  expect(
    codes(
      await putOutlineToUse(await callerOf(w.database, "accountant"), { ...wrong, version: 3 }),
    ),
  ).toEqual(["FORBIDDEN"]);
  must(await putOutlineToUse(await root(), { ...wrong, version: 3 }));
  expect(await shown()).toEqual(["Quays", before[1]]);
  await change(quay("6300-6399", "Piers"));
  must(await discardOutline(await root(), { ...wrong, version: 4 }));
  expect(await view()).toMatchObject({ version: 3, draft: false });
  expect(await shown()).toEqual(["Quays", before[1]]);
  expect(codes(await discardOutline(await root(), { ...wrong, version: 3 }))).toEqual(["IN_USE"]);
});
