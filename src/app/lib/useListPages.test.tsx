import { act, renderHook, waitFor } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import type { ListPage } from "@/core/lists";
import { useListPages, type StartOfList } from "./useListPages";

const { go, readList } = vi.hoisted(() => ({ go: vi.fn(), readList: vi.fn() }));
vi.mock("@/ui/frame/work", () => ({ useWork: () => ({ go }) }));
vi.mock("./listActions", () => ({ readList }));
vi.mock("./preferences", () => ({ keepPreference: vi.fn() }));

interface Row {
  id: number;
}
const page = (ids: number[], next: string | null, count: number | null = 5): ListPage<Row> => ({
  rows: ids.map((id) => ({ id })),
  next,
  count,
  totals: [],
});
const start = (first: ListPage<Row>): StartOfList<Row> => ({
  page: first,
  asked: { company: "ALP", status: "all", text: "", sort: "", filters: { number: "26" } },
  kept: { columns: undefined, filters: "no list" },
});
const answer = (value: ListPage<Row>) => Promise.resolve({ ok: true, value });
const open = (first: ListPage<Row>) =>
  renderHook((list: StartOfList<Row>) => useListPages("journals", list), {
    initialProps: start(first),
  });
type Hook = ReturnType<typeof open>;
const ids = ({ result }: Hook) => result.current.rows.map((r) => r.id);

beforeEach(() => void vi.clearAllMocks());

test("further rows follow those that are here, asked for as the first were", async () => {
  const list = open(page([1, 2], "two"));
  readList.mockReturnValueOnce(answer(page([3, 4], "four", null)));
  act(() => list.result.current.pages.readMore());
  // Asked again while it is being read: once is enough.
  act(() => list.result.current.pages.readMore());
  await waitFor(() => expect(ids(list)).toEqual([1, 2, 3, 4]));
  expect(readList.mock.calls).toEqual([
    ["journals", expect.objectContaining({ filters: { number: "26" }, after: "two" })],
  ]);
  expect([list.result.current.pages.count, list.result.current.pages.more]).toEqual([5, true]);
});

test("a server that does not answer is not asked again before somebody says so", async () => {
  const list = open(page([1, 2], "two"));
  readList.mockRejectedValueOnce(new Error("no connection"));
  act(() => list.result.current.pages.readMore());
  await waitFor(() => expect(list.result.current.pages.failed).toBe(true));
  expect([ids(list), list.result.current.pages.more]).toEqual([[1, 2], true]);
  readList.mockReturnValueOnce(answer(page([3], null, null)));
  act(() => list.result.current.pages.readMore());
  await waitFor(() => expect(ids(list)).toEqual([1, 2, 3]));
  expect([list.result.current.pages.failed, list.result.current.pages.more]).toEqual([
    false,
    false,
  ]);
});

test("rows of another list that arrive late are in no list; the export reads the whole", async () => {
  let late = (_page: { ok: true; value: ListPage<Row> }) => {};
  const list = open(page([1, 2], "two"));
  readList.mockReturnValueOnce(new Promise((resolve) => (late = resolve)));
  act(() => list.result.current.pages.readMore());
  list.rerender(start(page([7], "seven", 3)));
  await act(() => Promise.resolve(late({ ok: true, value: page([3], null, null) })));
  expect(ids(list)).toEqual([7]);
  readList
    .mockReturnValueOnce(answer(page([7, 8], "eight")))
    .mockReturnValueOnce(answer(page([9], null, null)));
  const progress: number[] = [];
  const all = await list.result.current.pages.readAll((n) => void progress.push(n));
  expect([all.map((r) => r.id), progress]).toEqual([
    [7, 8, 9],
    [2, 3],
  ]);
});

test("another order or filter goes into the address, and what is no filter any more out of it", () => {
  const list = open(page([1], null));
  expect(list.result.current.pages.saved).toEqual([]);
  list.result.current.pages.ask({ sort: "-date", filters: { type: "bank" } });
  expect(go).toHaveBeenCalledWith(
    { "f.number": null, "f.type": "bank", sort: "-date" },
    { replace: true },
  );
});
