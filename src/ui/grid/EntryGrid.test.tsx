import { useState } from "react";
import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, test } from "vitest";
import { commitCoding, tidyAmount, type CodingLookups } from "./coding";
import { EntryGrid, type GridColumn } from "./EntryGrid";
import { startHistory, type CellChange, type GridRow } from "./gridModel";

const ACCOUNTS = [
  { code: "6310", name: "Quay and pier maintenance" },
  { code: "6320", name: "Dredging" },
];
const LOOKUPS: CodingLookups = {
  accounts: ACCOUNTS.map((a) => ({ ...a, rules: {}, units: false, partner: false, moved: false })),
  dimensions: [],
  shortcuts: [],
};
const COLUMNS: GridColumn[] = [
  { key: "account", header: "Account", kind: "lookup", options: ACCOUNTS },
  { key: "description", header: "Description", kind: "text" },
  { key: "debit", header: "Debit", kind: "amount" },
];
const commit = (rows: readonly GridRow[], c: CellChange): CellChange[] =>
  c.key === "debit"
    ? [{ ...c, value: tidyAmount(c.value, "EUR") }]
    : (commitCoding(LOOKUPS, rows, c) ?? [c]);

/** What the grid holds, as whoever draws it is told. */
let held: readonly GridRow[] = [];
const hold = (rows: readonly GridRow[]): void => void (held = rows);
function Grid({
  rows = [],
  problems = {},
}: {
  rows?: GridRow[];
  problems?: Record<string, string>;
}) {
  const [history, setHistory] = useState(() => startHistory(rows));
  return (
    <EntryGrid
      label="Lines"
      columns={COLUMNS}
      history={history}
      onHistory={(next) => {
        setHistory(next);
        hold(next.rows);
      }}
      problems={new Map(Object.entries(problems))}
      currency="EUR"
      commit={commit}
    />
  );
}
const cell = () => document.activeElement as HTMLInputElement;
const where = () => cell().getAttribute("aria-label");
const begin = async (props: Parameters<typeof Grid>[0] = {}) => {
  const user = userEvent.setup();
  hold(props.rows ?? []);
  render(<Grid {...props} />);
  await user.click(screen.getByLabelText("Account, line 1"));
  return user;
};
const paste = (text: string) => fireEvent.paste(cell(), { clipboardData: { getData: () => text } });
const THREE: GridRow[] = [
  { account: "6310", description: "Fenders", debit: "100.00" },
  { account: "6320", description: "Dredging", debit: "50.00" },
  { account: "6310", description: "Bollards", debit: "25.00" },
];

describe("the entry grid of somebody who writes 1.234,56", () => {
  beforeEach(() => void (document.documentElement.dataset.writing = "comma.points"));
  afterEach(() => void delete document.documentElement.dataset.writing);
  const debit = () => screen.getByLabelText<HTMLInputElement>("Debit, line 1");

  test("reads and shows amounts their way and keeps them in the standard one", async () => {
    const user = await begin({ rows: THREE.slice(0, 1) });
    await user.keyboard("{ArrowRight}{ArrowRight}");
    for (const [typed, kept, shown] of [
      ["1.234", "1,234.00", "1.234,00"],
      ["1234,5", "1,234.50", "1.234,50"],
      ["=1.000,5*2", "2,001.00", "2.001,00"],
      ["12.5", "12.50", "12,50"],
      ["1.2.3", "1.2.3", "1.2.3"],
    ] as const) {
      await user.keyboard(`${typed}{ArrowDown}{ArrowUp}`);
      expect([held[0]!.debit, debit().value]).toEqual([kept, shown]);
    }
  });
  test("opening a cell and leaving it changes nothing", async () => {
    const user = await begin({ rows: [{ account: "6310", debit: "1,234.00" }] });
    await user.keyboard("{ArrowRight}{ArrowRight}{F2}{Enter}");
    expect(held[0]!.debit).toBe("1,234.00");
  });
  test("copies and pastes as their spreadsheet writes", async () => {
    const user = await begin({ rows: [{ account: "6310", debit: "1,234.00" }] });
    await user.keyboard("{ArrowRight}{ArrowRight}");
    let copied = "";
    fireEvent.copy(cell(), {
      clipboardData: { setData: (_type: string, text: string) => (copied = text) },
    });
    expect(copied).toBe("1.234,00");
    paste("2.500\r\n7,5\r\n");
    await expect.poll(() => held.map((r) => r.debit)).toEqual(["2,500.00", "7.50"]);
  });
});

describe("the entry grid", () => {
  test("a line is typed from the keyboard alone: an account by its name, a text, an amount that is computed", async () => {
    const user = await begin();
    await user.keyboard("dredg");
    expect(screen.getAllByRole("option")).toHaveLength(1);
    await user.keyboard("{Enter}");
    expect(where()).toBe("Description, line 1");
    await user.keyboard("Inner basin{Tab}=12*50.5{Enter}");
    expect(where()).toBe("Account, line 2");
    expect(held).toEqual([{ account: "6320", description: "Inner basin", debit: "606.00" }]);
  });
  test("Esc gives back what stood there; what is no amount stays as it was typed", async () => {
    const user = await begin({ rows: THREE.slice(0, 1) });
    await user.keyboard("{ArrowRight}wrong{Escape}{ArrowRight}many{Enter}");
    expect(held).toEqual([{ account: "6310", description: "Fenders", debit: "many" }]);
  });
  test("what is pasted goes from the cell on, tidied as if it had been typed, and one undo takes it back", async () => {
    const user = await begin({ rows: THREE.slice(0, 1) });
    await user.keyboard("{ArrowDown}");
    paste("6320\tSilt\t1.234,50\r\n6310\t\t7\r\n");
    await expect.poll(() => held.length).toBe(3);
    expect(held.slice(1)).toEqual([
      { account: "6320", description: "Silt", debit: "1,234.50" },
      { account: "6310", description: "", debit: "7.00" },
    ]);
    await user.keyboard("{Control>}z{/Control}");
    expect(held).toEqual(THREE.slice(0, 1));
    await user.keyboard("{Control>}y{/Control}");
    expect(held).toHaveLength(3);
  });
  test("a selection is copied as a block, summed, filled from above, and emptied", async () => {
    const user = await begin({ rows: THREE });
    await user.keyboard("{ArrowRight}{ArrowRight}{Shift>}{ArrowDown}{ArrowDown}{/Shift}");
    expect(screen.getByText(/175\.00/)).toBeTruthy();
    let copied = "";
    fireEvent.copy(cell(), {
      clipboardData: { setData: (_type: string, text: string) => (copied = text) },
    });
    expect(copied.trim().split(/\r?\n/)).toEqual(["100.00", "50.00", "25.00"]);
    await user.keyboard("{Control>}d{/Control}");
    expect(held.map((r) => r.debit)).toEqual(["100.00", "100.00", "100.00"]);
    await user.keyboard("{Delete}");
    expect(held.map((r) => r.debit ?? "")).toEqual(["", "", ""]);
    expect(held.map((r) => r.account)).toEqual(["6310", "6320", "6310"]);
  });
  test("rows are put in and taken out; F8 leads from problem to problem and says the sentence", async () => {
    const user = await begin({
      rows: THREE,
      problems: { "1:debit": "No amount.", "2:account": "Blocked." },
    });
    await user.keyboard("{F8}");
    expect([where(), screen.getByRole("status").textContent]).toEqual([
      "Debit, line 2",
      "Line 2, debit: No amount.",
    ]);
    await user.keyboard("{F8}");
    expect(where()).toBe("Account, line 3");
    await user.keyboard("{Control>}{Delete}{/Control}");
    expect(held.map((r) => r.description)).toEqual(["Fenders", "Dredging"]);
    await user.keyboard("{Control>}{Home}{/Control}{Control>}{ArrowUp}{/Control}{Insert}");
    expect(held.map((r) => r.description ?? "")).toEqual(["", "Fenders", "Dredging"]);
  });
  test("Tab leaves the grid behind its last line, and before its first", async () => {
    const user = await begin({ rows: THREE.slice(0, 1) });
    await user.keyboard("{Shift>}{Tab}{/Shift}");
    expect(document.activeElement).toBe(document.body);
    await user.click(screen.getByLabelText("Account, line 1"));
    await user.keyboard("{ArrowDown}{ArrowRight}{ArrowRight}{Tab}");
    expect(document.activeElement).toBe(document.body);
  });
});
