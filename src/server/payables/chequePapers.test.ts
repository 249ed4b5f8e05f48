import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { usualLayout, type PaperLayout } from "@/core/banks";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import {
  chequesPdf,
  getBankPaper,
  paymentsOfRun,
  printCheques,
  samplePaper,
  saveBankAccount,
  saveBankPaper,
  saveSignature,
  voidCheque,
} from "../banks";
import { savePartner } from "../partners";
import { postRun, proposeRun } from "../runs";
import { saveTaxCode } from "../taxes";
import { createInvoice } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const PNG =
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==";

let n = 0;
/** A run in preview that pays one invoice by cheque. */
async function chequeRun(payee = "ROPE"): Promise<number> {
  must(
    await createInvoice(await clerk(), {
      company: "ALP",
      supplier: payee,
      number: `I-${++n}`,
      date: "2026-10-01",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net: "10.00", taxCode: "Z" }],
      dueDate: "2026-10-02",
      post: true,
    }),
  );
  const params = { company: "ALP", bank: "MAIN", date: "2026-10-15", next: "2026-10-16" };
  return must(await proposeRun(await clerk(), { kind: "payment", params })).id;
}
const printed = async (run: number) => must(await chequesPdf(await clerk(), { run })).content;
const post = async (run: number) => must(await postRun(await clerk(), { key: String(run) }));
const save = async (layout: Partial<PaperLayout>, version: number) =>
  saveBankPaper(await root(), {
    code: "MAIN",
    kind: "cheque",
    layout: { ...usualLayout("cheque"), ...layout },
    version,
  });

beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  const long = "The Worshipful Company of Rope Makers, Chandlers and Sail Cutters of Merrowmouth";
  for (const [code, name] of [
    ["ROPE", "Rope Works"],
    ["LONG", long],
  ] as const)
    must(
      await savePartner(await clerk(), {
        code,
        name,
        supplier: true,
        country: "IE",
        method: "cheque",
      }),
    );
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, lastCheque: 40 }));
});

test("a signature is a whole PNG picture of its bank account and stands on cheques but not on their copies, unless struck out", async () => {
  const save = async (picture: string, code = "MAIN", by = root) =>
    codes(await saveSignature(await by(), { code, picture }));
  const text = Buffer.from("%PDF-1.7 not a picture").toString("base64");
  const cut = Buffer.from(PNG, "base64").subarray(0, 50).toString("base64");
  expect([await save(text), await save(cut), await save(PNG, "NONE")]).toEqual([
    ["INVALID"],
    ["INVALID"],
    ["NOT_FOUND"],
  ]);
  expect(await save(PNG, "MAIN", clerk)).toEqual(["FORBIDDEN"]);
  let first = 41;
  /** Prints the one cheque of a new run, twice: whether pictures stand on it and on its copy. */
  const prints = async () => {
    const run = await chequeRun();
    must(await printCheques(await clerk(), { run, first: first++ }));
    const images = async () =>
      (Buffer.from(await printed(run))
        .toString("latin1")
        .match(/\/Subtype \/Image/g)?.length ?? 0) > 0;
    const found = [await images(), await images()];
    await post(run);
    return found;
  };
  expect(await prints()).toEqual([false, false]);
  expect(await save(PNG)).toEqual([]);
  expect(await prints()).toEqual([true, false]);
  must(
    await saveBankPaper(await root(), {
      code: "MAIN",
      kind: "cheque",
      layout: { ...usualLayout("cheque"), copySignature: "struck out" },
      version: 0,
    }),
  );
  expect(await prints()).toEqual([true, true]);
  // A picture that was kept before pictures were looked at leaves the line to be signed by hand.
  await w.database.db.execute(sql`update bank_account set signature = ${cut} where code = 'MAIN'`);
  expect(await prints()).toEqual([false, false]);
});

test("a layout is of its account and its version; what cannot be used is refused at its piece; the clerk changes none", async () => {
  const { layout, version } = must(
    await getBankPaper(await root(), { code: "MAIN", kind: "bill" }),
  );
  expect([version, layout]).toEqual([0, usualLayout("bill")]);
  const input = { code: "MAIN", kind: "bill", layout, version };
  expect(codes(await saveBankPaper(await clerk(), input))).toEqual(["FORBIDDEN"]);
  const off = { ...layout, pieces: layout.pieces.map((p) => ({ ...p, x: p.x + 300 })) };
  const refused = await saveBankPaper(await root(), { ...input, layout: off });
  expect(refused.ok ? [] : refused.problems.map((p) => p.field)).toContain("layout.pieces.1.x");
  const both = await Promise.all([1, 2].map(async () => saveBankPaper(await root(), input)));
  expect(both.flatMap(codes)).toEqual(["STALE"]);
  const sample = must(await samplePaper(await root(), { code: "MAIN", kind: "bill" }));
  expect(Buffer.from(sample.content.slice(0, 5)).toString()).toBe("%PDF-");
});

test("a payee who does not fit where the layout has room for them is refused, and nothing counts as printed", async () => {
  const { version } = must(await getBankPaper(await root(), { code: "MAIN", kind: "cheque" }));
  const small = usualLayout("cheque").pieces.map((p) =>
    p.piece === "payee" ? { ...p, width: 300, height: 20 } : p,
  );
  must(await save({ pieces: small }, version));
  const run = await chequeRun("LONG");
  must(await printCheques(await clerk(), { run, first: 60, missing: "kept for the yard" }));
  const refused = await chequesPdf(await clerk(), { run });
  expect(refused.ok ? "" : JSON.stringify(refused.problems)).toContain("Payee of cheque 60");
  must(await save({}, version + 1));
  const [cheque] = must(await paymentsOfRun(await clerk(), { run })).cheques.filter(
    (c) => c.state === "printed",
  );
  expect(cheque).toMatchObject({ number: 60, prints: 0 });
  await printed(run);
  await post(run);
});

test("numbers of a series go on by themselves, and that of a spoilt form is given again where the account says so", async () => {
  const { version } = must(await getBankPaper(await root(), { code: "MAIN", kind: "cheque" }));
  must(await save({ numbers: "series" }, version));
  const run = await chequeRun();
  expect(codes(await printCheques(await clerk(), { run, first: 70 }))).toEqual(["INVALID"]);
  expect(must(await printCheques(await clerk(), { run }))).toEqual({ from: 61, to: 61 });
  const spoil = async () => {
    const [cheque] = must(await paymentsOfRun(await clerk(), { run })).cheques.filter(
      (c) => c.state === "printed",
    );
    const input = { id: cheque!.id, reason: "jammed in the printer", then: "print anew" };
    return must(await voidCheque(await clerk(), input)).number;
  };
  expect(await spoil()).toBe(62);
  must(await save({ numbers: "series", reuseSpoilt: true }, version + 1));
  // 61 and 62 are spoilt by now: both are given again before 63 is.
  expect([await spoil(), await spoil(), await spoil()]).toEqual([61, 61, 61]);
  await post(run);
  const next = await chequeRun();
  expect(must(await printCheques(await clerk(), { run: next }))).toEqual({ from: 62, to: 62 });
  await post(next);
  const last = await chequeRun();
  expect(must(await printCheques(await clerk(), { run: last }))).toEqual({ from: 63, to: 63 });
});
