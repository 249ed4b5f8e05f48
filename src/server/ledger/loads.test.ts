import { beforeAll, expect, test } from "vitest";
import { journalInput } from "@/core/ledger";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { savePerson } from "../access";
import { saveAccount, saveDimension, savePair } from "../organisation";
import { loadRates } from "../rates";
import { chart, deleteDraft, getJournal, getLoad, listLoads, loadJournals } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const line = (account: string, debit: string, credit: string, more: object = {}) => ({
  account,
  debit,
  credit,
  dimensions: account === "6310" ? { costCentre: "HARB" } : {},
  ...more,
});
const journal = (key: string, lines: object[], over: object = {}) => ({
  key,
  input: journalInput({
    company: "ALP",
    type: "general",
    date: "2026-10-05",
    description: `Journal ${key}`,
    ...over,
    lines: lines as never,
  }),
});

beforeAll(async () => {
  must(
    await savePair(await root(), {
      first: "ALP",
      second: "BET",
      firstDueFrom: "1340",
      firstDueTo: "2150",
      secondDueFrom: "1340",
      secondDueTo: "2150",
    }),
  );
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "EUR", quote: "GBP", date: "2026-10-05", rate: "0.87" }],
    }),
  );
  must(
    await savePerson(await root(), {
      login: "only-bet",
      name: "Only Beta",
      password: "a long enough passphrase 7",
      grants: [{ role: "controller", company: "BET" }],
    }),
  );
});

test("a load says where its parts do not balance, and is found again with what has become of each journal", async () => {
  const journals = [
    journal("A", [line("6310", "100.00", ""), line("2410", "", "40.00")]),
    journal("B", [
      line("6310", "30.00", ""),
      line("2410", "", "30.00", { company: "BET" }),
      line("6310", "5.00", ""),
      line("2410", "", "5.00"),
    ]),
    journal("C", [line("6310", "1.00", ""), line("2410", "", "1.00")]),
  ];
  const checked = must(await loadJournals(await root(), { mode: "check", journals }));
  expect(checked.balances).toEqual([
    { company: "ALP", currency: "EUR", value: "", debits: 13_600n, credits: 4_600n },
    { company: "BET", currency: "EUR", value: "", debits: 0n, credits: 3_000n },
  ]);
  const source = "october.csv";
  must(await loadJournals(await root(), { mode: "post", source, journals }));
  const [load] = must(await listLoads(await root(), { company: "ALP" }));
  expect(load).toMatchObject({ source, journals: 2, posted: 2, mode: "post" });
  const view = must(await getLoad(await root(), { id: load!.id }));
  expect(
    view.items.map((i) => [i.key, i.status, i.amount, i.linked.map((l) => l.company)]),
  ).toEqual([
    ["B", "posted", 3_500n, ["BET"]],
    ["C", "posted", 100n, []],
  ]);
  const key = view.items[0]!.number!;
  expect(must(await getJournal(await root(), { key }))).toMatchObject({
    load: { id: load!.id, source },
  });
  // Drafts are found as drafts; one that is deleted was never loaded.
  const again = { mode: "draft", source: "drafts.csv", journals: journals.slice(0, 1) };
  const [kept] = must(await loadJournals(await root(), again)).journals;
  expect(must(await listLoads(await root(), { company: "ALP" }))[0]).toMatchObject({ posted: 0 });
  must(await deleteDraft(await root(), { id: kept!.id!, version: 1 }));
  expect(must(await listLoads(await root(), { company: "ALP" })).map((l) => l.id)).toEqual([
    load!.id,
  ]);
  // Whoever sees another company alone sees nothing of it.
  const stranger = await callerOf(w.database, "only-bet");
  expect(codes(await getLoad(stranger, { id: load!.id }))).toEqual(["NOT_FOUND"]);
  expect(codes(await listLoads(stranger, { company: "ALP" }))).toEqual(["FORBIDDEN"]);
});

test("values of a dimension that has to balance are balanced each by itself", async () => {
  must(
    await saveDimension(await root(), {
      code: "project",
      name: "Project",
      slot: 2,
      balancing: "refuse",
    }),
  );
  const project = (code: string) => ({ dimensions: { costCentre: "HARB", project: code } });
  const { balances } = must(
    await loadJournals(await root(), {
      mode: "check",
      journals: [
        journal("P", [
          line("6310", "10.00", "", project("P-071")),
          line("6310", "", "10.00", project("")),
        ]),
      ],
    }),
  );
  expect(balances.map((b) => [b.value, b.debits - b.credits])).toEqual([
    ["", 0n],
    ["Project P-071", 1_000n],
    ["Project without", -1_000n],
  ]);
});

test("an account kept in one currency takes no other, by whatever way", async () => {
  const dollars = {
    number: "1118",
    name: "Dollar deposit",
    type: "asset",
    monetary: true,
    heading: must(await chart(await root())).headings.find((h) => h.code.startsWith("11"))!.code,
    currency: "usd",
  };
  must(await saveAccount(await root(), dollars));
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "USD", quote: "EUR", date: "2026-10-05", rate: "0.9" }],
    }),
  );
  const into = (currency: string | null) => [
    journal("D", [line("1118", "10.00", ""), line("2410", "", "10.00")], { currency }),
  ];
  const post = async (currency: string | null) =>
    must(await loadJournals(await root(), { mode: "post", journals: into(currency) })).journals[0]!;
  expect((await post(null)).problems.map((p) => [p.line, p.field, p.code])).toEqual([
    [1, "account", "ACCOUNT_CURRENCY"],
  ]);
  expect((await post("USD")).status).toBe("posted");
  const later = await saveAccount(await root(), { ...dollars, currency: "GBP" });
  expect(codes(later)).toEqual(["IN_USE"]);
});
