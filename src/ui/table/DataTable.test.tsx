import { useEffect, useState } from "react";
import { act, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, test, vi } from "vitest";
import { DataTable, type TableColumn } from "./DataTable";
import type { ListState, Pages } from "./pages";

interface Row {
  id: string;
  name: string;
  currency: string;
  amount: bigint;
  posted: boolean;
}
const COLUMNS: TableColumn<Row>[] = [
  { key: "name", header: "Name", value: (r) => r.name },
  { key: "amount", header: "Amount", align: "right", sum: true, value: (r) => r.amount },
];
const row = (name: string, amount: bigint, currency = "EUR", posted = true): Row => ({
  id: name,
  name,
  currency,
  amount,
  posted,
});
const ROWS = [
  row("Quay", 1_000n),
  row("Crane", 250n),
  row("Yen quay", 5_000n, "JPY"),
  row("Draft quay", 99_900n, "EUR", false),
];

function Table({
  rows = ROWS,
  pages,
  onSelect,
}: {
  rows?: Row[];
  pages?: Pages<Row>;
  onSelect?: (keys: string[]) => void;
}) {
  return (
    <DataTable
      name="things"
      rows={rows}
      columns={COLUMNS}
      rowKey={(r) => r.id}
      currency="EUR"
      currencyOf={(r) => r.currency}
      counts={(r) => r.posted}
      totalName="Total posted"
      selectable
      empty="Nothing yet"
      {...(pages ? { pages } : {})}
      {...(onSelect ? { onSelect } : {})}
    />
  );
}
const names = () =>
  [...document.querySelectorAll("tbody tr[data-row]")].map((tr) => tr.children[1]!.textContent);
const totals = () => [...document.querySelectorAll("tfoot tr")].map((tr) => tr.textContent);

describe("a table whose rows are all here", () => {
  test("is filtered and sorted by what is shown; its totals are of what counts, by currency", async () => {
    const user = userEvent.setup();
    render(<Table />);
    expect(totals()).toEqual(["Total posted, EUR12.50", "Total posted, JPY5,000"]);
    await user.type(screen.getByLabelText("Filter Name"), "quay");
    expect(names()).toEqual(["Quay", "Yen quay", "Draft quay"]);
    expect(totals()).toEqual(["Total posted, EUR10.00", "Total posted, JPY5,000"]);
    await user.type(screen.getByLabelText("Filter Amount"), "999.00");
    expect(names()).toEqual(["Draft quay"]);
    await user.click(screen.getByText("Clear filters"));
    await user.click(screen.getByRole("button", { name: "Amount" }));
    expect(names()).toEqual(["Crane", "Quay", "Yen quay", "Draft quay"]);
    await user.click(screen.getByRole("button", { name: "Amount" }));
    expect(names()[0]).toBe("Draft quay");
  });

  test("is walked through and selected by keyboard; what is selected has its own total", async () => {
    const user = userEvent.setup();
    const onSelect = vi.fn();
    render(<Table onSelect={onSelect} />);
    act(() => document.querySelector<HTMLElement>("tr[data-row='0']")!.focus());
    await user.keyboard(" ");
    await user.keyboard("{ArrowDown}");
    await waitFor(() => expect(document.activeElement).toHaveProperty("dataset.row", "1"));
    await user.keyboard(" ");
    expect(onSelect).toHaveBeenLastCalledWith(["Quay", "Crane"]);
    expect(totals()).toEqual(["Selected12.50"]);
  });
});

/** A list whose pages come when the test says so. */
function Remote({
  onReady,
  asked,
}: {
  /** Given what lets an answer arrive. */
  onReady?: (answer: (state: ListState) => void) => void;
  asked: ListState[];
}) {
  const [state, setState] = useState<ListState>({ sort: "", filters: {} });
  useEffect(() => onReady?.(setState), [onReady]);
  const pages: Pages<Row> = {
    count: 250,
    totals: [{ currency: "EUR", sums: { amount: 123_456n } }],
    state,
    ask: (next) => void asked.push(next),
    more: false,
    failed: false,
    readMore: () => undefined,
    readAll: () => Promise.resolve(ROWS),
    saved: [{ name: "Mine", sort: "-amount", filters: { name: "quay" } }],
    save: () => undefined,
  };
  return <Table pages={pages} />;
}

describe("a table whose pages come from the server", () => {
  test("shows the count and the totals of the whole, and leaves filters and order to the server", async () => {
    const user = userEvent.setup();
    const asked: ListState[] = [];
    render(<Remote asked={asked} />);
    expect(screen.getByText("250 rows")).toBeTruthy();
    expect(totals()).toEqual(["Total posted1,234.56"]);
    await user.click(screen.getByRole("button", { name: "Amount" }));
    expect(asked).toEqual([{ sort: "amount", filters: {} }]);
    await user.type(screen.getByLabelText("Filter Name"), "crane");
    expect(names()).toHaveLength(ROWS.length);
    await waitFor(() => expect(asked.at(-1)).toEqual({ sort: "", filters: { name: "crane" } }));
    // One question for all that was typed at once.
    expect(asked).toHaveLength(2);
  });

  test("what is typed while an answer is under way stays; going back shows what was asked then", async () => {
    const user = userEvent.setup();
    const asked: ListState[] = [];
    let answer = (_state: ListState) => {};
    render(<Remote onReady={(take) => (answer = take)} asked={asked} />);
    const filter = screen.getByLabelText<HTMLInputElement>("Filter Name");
    await user.type(filter, "qu");
    await waitFor(() => expect(asked).toHaveLength(1));
    await user.type(filter, "ay");
    act(() => answer(asked[0]!));
    expect(filter.value).toBe("quay");
    await waitFor(() => expect(asked.at(-1)!.filters).toEqual({ name: "quay" }));
    act(() => answer(asked.at(-1)!));
    act(() => answer({ sort: "", filters: { name: "earlier" } }));
    expect(filter.value).toBe("earlier");
  });

  test("a saved filter is taken as a whole", async () => {
    const user = userEvent.setup();
    const asked: ListState[] = [];
    render(<Remote asked={asked} />);
    await user.click(screen.getByRole("button", { name: "Saved filters" }));
    const panel = await screen.findByText("Mine");
    await user.click(within(panel.parentElement!).getByText("Mine"));
    expect(asked).toEqual([{ sort: "-amount", filters: { name: "quay" } }]);
  });
});
