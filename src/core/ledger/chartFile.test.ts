import { describe, expect, test } from "vitest";
import { readChart, type KnownChart } from "./chartFile";

const known: KnownChart = {
  headings: [{ code: "6", name: "Costs", parent: null }],
  accounts: [
    {
      number: "6310",
      name: "Repairs",
      type: "expense",
      control: null,
      monetary: false,
      heading: "6",
      blocked: false,
      companies: [],
      currency: null,
      rules: { costCentre: "required" },
    },
  ],
  dimensions: [
    { code: "costCentre", name: "Cost centre" },
    { code: "project", name: "Project" },
  ],
  companies: ["HSF", "YRD"],
};
const row = (text: string, columns = "number,name,type,heading,costcentre,companies") =>
  Object.fromEntries(columns.split(",").map((c, i) => [c, text.split(",")[i] ?? ""]));
const said = (rows: Record<string, string>[]) => {
  const result = readChart(rows, known);
  return result.ok ? [] : result.problems.map((p) => (p.code === "INVALID" ? p.what : p.code));
};

describe("a chart from a file", () => {
  test("the currency that an account is kept in comes with it; a file without the column leaves it", () => {
    const columns = "number,name,type,heading,currency";
    const plan = readChart(
      [row("1115,Dollar account,asset,6,usd", columns), row("6310,Repairs,expense,6,", columns)],
      known,
    );
    expect(plan.ok && plan.value.accounts.map((a) => [a.number, a.currency])).toEqual([
      ["1115", "USD"],
    ]);
    expect(said([row("1115,Dollar account,asset,6,dollars", columns)])).toEqual([
      "Row 2: “DOLLARS” is no currency code of ISO 4217",
    ]);
    const kept = { ...known, accounts: [{ ...known.accounts[0]!, currency: "EUR" }] };
    const named = readChart([row("6310,Mending,expense,6,,")], kept);
    expect(named.ok && named.value.accounts[0]).toMatchObject({ name: "Mending", currency: "EUR" });
  });
  test("headings come with their accounts, below before above or not; rules and companies beside them", () => {
    const result = readChart(
      [
        row("7,Finance,heading,,,"),
        row("7110,Interest,Expense,71,forbidden,HSF YRD"),
        row("71,Interest and fees,heading,70,,"),
        row("70,Cost of money,heading,7,,"),
        row("6310,Repairs,expense,6,required,"),
      ],
      known,
    );
    expect(result).toMatchObject({
      ok: true,
      value: {
        headings: [{ code: "7" }, { code: "70" }, { code: "71", parent: "70" }],
        accounts: [
          { number: "7110", rules: { costCentre: "forbidden" }, companies: ["HSF", "YRD"] },
        ],
        same: 1,
      },
    });
  });

  test("what changes is named field by field, what the file does not say stays", () => {
    const result = readChart(
      [row("6310,Upkeep,expense", "number,name,type"), row("6,Costs,heading", "number,name,type")],
      known,
    );
    expect(result).toMatchObject({
      ok: true,
      value: {
        accounts: [{ heading: "6", rules: { costCentre: "required" } }],
        changes: [{ row: 2, what: "changed", differences: ["name: Upkeep, was Repairs"] }],
        same: 1,
      },
    });
    expect(readChart([row("6310,Repairs,expense,6,allowed,YRD")], known)).toMatchObject({
      value: {
        changes: [
          { differences: ["companies: YRD, was all", "costCentre: allowed, was required"] },
        ],
      },
    });
  });

  test.each([
    [[row("6", "number")], ["The column name, type is missing"]],
    [[row("9x,Bad,expense,6,,")], ["Row 2: “9x” is no account number"]],
    [
      [row("1,A,heading,2,,"), row("2,B,heading,1,,")],
      ["Row 2: heading 1 lies below itself", "Row 3: heading 2 lies below itself"],
    ],
    [[row("1,A,heading,1,,")], ["Row 2: heading 1 lies below itself"]],
    [[row("6310,A,heading,,,")], ["Row 2: 6310 is an account already"]],
    [[row("6,A,expense,6,,")], ["Row 2: 6 is a heading already"]],
    [[row("1,A,heading,9,,")], ["Row 2: there is no heading 9"]],
    [[row("1,A,expense,,,")], ["Row 2: the heading is missing"]],
    [
      [row("1,A,expense,6,sometimes,")],
      ["Row 2: “sometimes” is no rule for cost centre; use required, allowed, forbidden"],
    ],
    [[row("1,A,expense,6,,NIX")], ["Row 2: there is no company NIX"]],
    [[row("1,A,expense,6,,"), row("1,B,expense,6,,")], ["Row 3: 1 stands in row 2 already"]],
  ])("%#: is a problem at its row", (rows, expected) => expect(said(rows)).toEqual(expected));
});
